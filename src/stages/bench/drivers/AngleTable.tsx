'use client';
import { PlaneChoice } from '@/stages/bench/PlaneChoice';
import type { DriverId } from '@/core/fields';
import styled from 'styled-components';
import type { Measurement } from '@/core/document/schema';
import { repeatedAngles } from '@/core/prediction/repeatedAngles';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { TextButton } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { Note, Quiet, tableLook } from '@/ui/sheets';

const nobody = 'nobody';

/**
 * Responses round a driver: plane and angle as the file names told them, to be corrected, and whose
 * they are.
 */
export function AngleTable({ onShow }: { readonly onShow: (id: string) => void }) {
  const desk = useDesk();
  const measurements = useDeskState((state) => state.design.measurements);
  const drivers = useDeskState((state) => state.design.drivers);
  const responses = measurements
    .filter(({ kind }) => kind === 'response')
    .sort((a, b) => order(a) - order(b));
  const told = responses.filter(({ angle }) => angle !== null);
  const ownerOf = (id: string) =>
    drivers.find(({ offAxisIds }) => offAxisIds.includes(id))?.id ?? nobody;
  const give = (ids: readonly string[], driverId: DriverId, label: string) => {
    const { drivers: all } = desk.store.getState().design;
    for (const driver of all) {
      const rest = driver.offAxisIds.filter((id) => !ids.includes(id));
      const next = driver.id === driverId ? [...rest, ...ids] : rest;
      if (next.length !== driver.offAxisIds.length || driver.id === driverId)
        desk.change(
          { type: 'editDriver', id: driver.id, set: { offAxisIds: next } },
          label,
          `angles ${driverId}`,
        );
    }
  };
  const setAngle = (measurement: Measurement, angle: Measurement['angle']) =>
    desk.change(
      { type: 'editMeasurement', id: measurement.id, set: { angle } },
      `angle of ${measurement.name}`,
      `angle ${measurement.id}`,
    );
  if (responses.length === 0)
    return (
      <Quiet>
        Drop a whole folder of responses round a driver: plane and angle are read from the file
        names (hor +30, v-15deg, H_030) and can be corrected here.
      </Quiet>
    );
  return (
    <>
      <h3>{told.length} responses with an angle</h3>
      {drivers
        .flatMap((driver) => repeatedAngles({ measurements }, driver))
        .map(({ what, why, mend }) => (
          <Note key={what} $kind="doubt">
            {what} {why} {mend}
          </Note>
        ))}
      {told.length > 0 && (
        <Quiet>
          Give all of them to{' '}
          {drivers.map(({ id, name }) => (
            <TextButton
              key={id}
              onPress={() =>
                give(
                  told.map((m) => m.id),
                  id,
                  `give ${told.length} angles to ${name}`,
                )
              }
            >
              {name}
            </TextButton>
          ))}
          {drivers.length === 0 && 'a driver, once there is one.'}
        </Quiet>
      )}
      <Table>
        <thead>
          <tr>
            <th scope="col">Response</th>
            <th scope="col">Plane</th>
            <th scope="col">Angle</th>
            <th scope="col">Round which driver</th>
          </tr>
        </thead>
        <tbody>
          {responses.map((measurement) => {
            const { id, name, angle } = measurement;
            return (
              <tr key={id}>
                <th scope="row">
                  <TextButton onPress={() => onShow(id)}>{name}</TextButton>
                </th>
                <td>
                  <PlaneChoice
                    name={name}
                    angle={angle}
                    onChange={(next) => setAngle(measurement, next)}
                  />
                </td>
                <td>
                  {angle && (
                    <QuantityBlank
                      label={`Angle of ${name}`}
                      value={angle.degrees}
                      dimension="degree"
                      min={-180}
                      max={180}
                      stepBy={5}
                      onChange={(degrees) =>
                        degrees !== null && setAngle(measurement, { ...angle, degrees })
                      }
                    />
                  )}
                </td>
                <td>
                  <Choice
                    label={`Driver of ${name}`}
                    hideLabel
                    options={[
                      { id: nobody, text: '–' },
                      ...drivers.map((driver) => ({ id: driver.id, text: driver.name })),
                    ]}
                    value={ownerOf(id)}
                    onChange={(driverId) => give([id], driverId, `angle of ${name}`)}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </>
  );
}

/** Horizontal before vertical, by angle; what tells none comes last. */
const order = ({ angle }: Measurement): number =>
  angle === null ? 1e6 : (angle.plane === 'vertical' ? 1000 : 0) + angle.degrees;

const Table = styled.table`
  ${tableLook}
  td button,
  th button {
    font-size: ${({ theme }) => theme.size.small};
    text-align: left;
  }
`;
