'use client';
import styled from 'styled-components';
import type { AroundView } from '@/core/around/orbits';
import type { Boundary } from '@/core/document/surroundingsSchema';
import type { Design } from '@/core/document/schema';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDesk } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Tick } from '@/ui/fields/Tick';
import { Note, Quiet, Sentence, tableLook } from '@/ui/sheets';

const kinds: readonly {
  readonly kind: Boundary['kind'];
  readonly name: string;
  readonly where: string;
  readonly usualMm: number;
}[] = [
  { kind: 'floor', name: 'Floor', where: 'below the axis', usualMm: 900 },
  { kind: 'desk', name: 'Desk', where: 'below the axis', usualMm: 250 },
  { kind: 'front-wall', name: 'Wall behind', where: 'behind the front', usualMm: 600 },
  {
    kind: 'left-wall',
    name: 'Wall at the left',
    where: 'from the left speaker’s axis',
    usualMm: 1200,
  },
  {
    kind: 'right-wall',
    name: 'Wall at the right',
    where: 'from the right speaker’s axis',
    usualMm: 1200,
  },
];
const usualAbsorption = 0.1;

interface RoomPaneProps {
  readonly design: Design;
  readonly view: AroundView;
}

/** The seats and the surroundings of the speaker. */
export function RoomPane({ design, view }: RoomPaneProps) {
  return (
    <>
      <Seats view={view} />
      <Preferred view={view} />
      <Surroundings design={design} />
    </>
  );
}

function Seats({ view: { seats, source } }: { readonly view: AroundView }) {
  if (seats.length === 0)
    return (
      <Note $kind="plain">Say in the Brief how far away the seats are; each is shown here.</Note>
    );
  return (
    <Table aria-label="Seats">
      <thead>
        <tr>
          <th>seat</th>
          <th>distance</th>
          <th>angle</th>
        </tr>
      </thead>
      <tbody>
        {seats.map(({ seat }) => (
          <tr key={seat.id}>
            <td>{seat.name}</td>
            <td>{formatQuantity(Math.round(seat.distanceMm / 10) * 10, 'distance')}</td>
            <td>{formatFixed(seat.asideDeg, 0)}°</td>
          </tr>
        ))}
        <tr>
          <td colSpan={3}>
            <Quiet>
              Their curves: choose “the seats” above the levels. Directions are {source}.
            </Quiet>
          </td>
        </tr>
      </tbody>
    </Table>
  );
}

function Preferred({ view: { preference, source } }: { readonly view: AroundView }) {
  if (!preference) return null;
  const { rating, narrowBandAxisDb, narrowBandRoomDb, extensionHz, smoothness } = preference;
  return (
    <Note $kind="plain">
      <strong>Preference estimate {formatFixed(rating, 1)} of 10</strong> (Olive 2004): narrow-band
      deviation {formatFixed(narrowBandAxisDb, 2)} dB on axis and {formatFixed(narrowBandRoomDb, 2)}{' '}
      dB in the room, −6 dB at {formatQuantity(Number(extensionHz.toPrecision(2)), 'hertz')},
      smoothness {formatFixed(smoothness, 2)}.{' '}
      <Quiet>
        A statistic over 70 measured speakers in mono, in one room: it says nothing of level,
        distortion or your room
        {source === 'modelled' ? ', and here it is told from modelled directions' : ''}.
      </Quiet>
    </Note>
  );
}

function Surroundings({ design }: { readonly design: Design }) {
  const desk = useDesk();
  const { surroundings, axisHeightMm } = design;
  const { boundaries, pair } = surroundings;
  const set = (next: Partial<Design['surroundings']>, what: string, key: string) =>
    desk.change(
      { type: 'setSurroundings', surroundings: { ...surroundings, ...next } },
      what,
      `surroundings ${key}`,
    );
  const replace = (kind: Boundary['kind'], edit: Partial<Boundary>, key: string) =>
    set(
      { boundaries: boundaries.map((one) => (one.kind === kind ? { ...one, ...edit } : one)) },
      'surroundings',
      `${kind} ${key}`,
    );
  return (
    <Group data-entries>
      <h3>Around the speaker</h3>
      {kinds.map(({ kind, name, where, usualMm }) => {
        const own = boundaries.find((one) => one.kind === kind);
        const distanceMm = kind === 'floor' ? (axisHeightMm ?? usualMm) : usualMm;
        return (
          <div key={kind}>
            <Tick
              isSelected={own !== undefined}
              onChange={(isOn) =>
                set(
                  {
                    boundaries: isOn
                      ? [...boundaries, { kind, distanceMm, absorption: usualAbsorption }]
                      : boundaries.filter((one) => one.kind !== kind),
                  },
                  isOn ? `${name.toLowerCase()} counts` : `no ${name.toLowerCase()}`,
                  kind,
                )
              }
            >
              {name}
            </Tick>
            {own && (
              <Sentence>
                <QuantityBlank
                  label={`${name}: distance`}
                  dimension="millimetre"
                  stepBy={50}
                  min={10}
                  max={20_000}
                  value={own.distanceMm}
                  onChange={(mm) => mm !== null && replace(kind, { distanceMm: mm }, 'distance')}
                />{' '}
                {where}, absorbing{' '}
                <QuantityBlank
                  label={`${name}: absorbed, percent`}
                  dimension="number"
                  stepBy={5}
                  min={0}
                  max={100}
                  value={Math.round(100 * own.absorption)}
                  onChange={(percent) =>
                    percent !== null && replace(kind, { absorption: percent / 100 }, 'absorption')
                  }
                />{' '}
                %
              </Sentence>
            )}
          </div>
        );
      })}
      <Tick
        isSelected={pair !== null}
        onChange={(isOn) =>
          set(
            { pair: isOn ? { apartMm: 2000, toeInDeg: 0 } : null },
            isOn ? 'a pair' : 'one speaker',
            'pair',
          )
        }
      >
        Both speakers of a pair play
      </Tick>
      {pair && (
        <Sentence>
          <QuantityBlank
            label="Pair: apart"
            dimension="distance"
            stepBy={100}
            min={100}
            max={20_000}
            value={pair.apartMm}
            onChange={(mm) =>
              mm !== null && set({ pair: { ...pair, apartMm: mm } }, 'the pair', 'apart')
            }
          />{' '}
          apart, each turned inward by{' '}
          <QuantityBlank
            label="Pair: turned in"
            dimension="degree"
            stepBy={1}
            min={-90}
            max={90}
            value={pair.toeInDeg}
            onChange={(degrees) =>
              degrees !== null &&
              set({ pair: { ...pair, toeInDeg: degrees } }, 'the pair', 'toe-in')
            }
          />
          .
        </Sentence>
      )}
      <Quiet>
        For the seats these are mirror images, large and flat, over a third of an octave; promises,
        maps and averages stay those of a free field.
      </Quiet>
    </Group>
  );
}

const Group = styled.div`
  display: grid;
  gap: 0.4rem;
  h3 {
    font-size: 0.8125rem;
  }
`;

const Table = styled.table`
  ${tableLook}
`;
