'use client';
import { useState } from 'react';
import styled from 'styled-components';
import { boundsOf, type Panel } from '@/core/document/baffleSchema';
import type { Design } from '@/core/document/schema';
import type { DriverId } from '@/core/fields';
import { usedBand } from '@/core/layout/findings';
import type { FoundLayout } from '@/core/layout/placeSearch';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Tick } from '@/ui/fields/Tick';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { Choices, Note, Quiet, Sentence, tableLook } from '@/ui/sheets';
import type { PlaceSearch } from '@/stages/baffle/usePlaceSearch';

interface PlacePaneProps {
  readonly design: Design;
  readonly panel: Panel;
  readonly search: PlaceSearch;
  /** Which driver’s map lies on the drawing. */
  readonly mapOf: DriverId | null;
  readonly onMap: (driverId: DriverId | null) => void;
}

const db = (value: number) => `±${formatFixed(value, 1)}`;

/** Looks for places with the least ripple. */
export function PlacePane({ design, panel, search, mapOf, onMap }: PlacePaneProps) {
  const prediction = useDeskState((state) => state.prediction);
  const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
  const { widthMm } = boundsOf(panel.corners);
  const [still, setStill] = useState<ReadonlySet<string>>(new Set());
  const [narrowestMm, setNarrowest] = useState<number | null>(null);
  const [widestMm, setWidest] = useState<number | null>(null);
  const [radiusMm, setRadius] = useState<number | null>(null);
  const { progress, found, trouble } = search;
  const wish = () => ({
    panelId: panel.id,
    movable: own.map(({ id }) => id).filter((id) => !still.has(id)),
    bands: new Map(own.map((driver) => [driver.id, usedBand(design, prediction, driver)])),
    narrowestMm: narrowestMm ?? widthMm,
    widestMm: widestMm ?? widthMm,
    largestRadiusMm: radiusMm ?? 0,
  });
  const blank = (
    label: string,
    value: number | null,
    set: (mm: number | null) => void,
    placeholder: string,
  ) => (
    <QuantityBlank
      label={label}
      dimension="millimetre"
      stepBy={5}
      min={0}
      max={3000}
      value={value}
      placeholder={placeholder}
      onChange={set}
    />
  );
  if (panel.kind === 'open')
    return <Quiet>Places are searched on boxes; on an open baffle move a driver by hand.</Quiet>;
  return (
    <Layout>
      <Sentence>
        Look for the places with the least ripple on the axis and within ±30°, on a front between{' '}
        {blank('Narrowest front', narrowestMm, setNarrowest, formatNumber(widthMm))} and{' '}
        {blank('Widest front', widestMm, setWidest, formatNumber(widthMm))} wide, its edges rounded
        by up to {blank('Largest radius', radiusMm, setRadius, 'as they are')}.
      </Sentence>
      <div>
        {own.map(({ id, name }) => (
          <Tick
            key={id}
            isSelected={!still.has(id)}
            onChange={(isMovable) =>
              setStill((before) => {
                const next = new Set(before);
                if (isMovable) next.delete(id);
                else next.add(id);
                return next;
              })
            }
          >
            {name} may move
          </Tick>
        ))}
      </div>
      {progress ? (
        <>
          <ProgressBarWithStop
            name="Search for places"
            percent={Math.round(100 * progress.share)}
            onStop={search.stop}
          />
          <Quiet role="status">
            {progress.told}
            {Number.isFinite(progress.bestDb) &&
              `; best so far ${formatFixed(progress.bestDb, 2)} dB rms`}
          </Quiet>
        </>
      ) : (
        <Choices>
          <PrimaryButton
            isDisabled={own.length === still.size}
            onPress={() => search.search(wish())}
          >
            Search
          </PrimaryButton>
          <Quiet>the other speaker of the pair is its mirror image</Quiet>
        </Choices>
      )}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      {found && (
        <>
          <FoundTable design={design} rows={rowsOf(found.before, found.best, found.centred)} />
          <Quiet role="status">{centredWords(found.best, found.centred)}</Quiet>
          <Choices>
            <PrimaryButton
              isDisabled={found.best === found.before}
              onPress={() => search.takeOver(found.best)}
            >
              Take these places
            </PrimaryButton>
            <Button
              onPress={() => search.show(found.best)}
              isDisabled={found.best === found.before}
            >
              Show
            </Button>
            <Button onPress={() => search.show(null)}>Show mine</Button>
          </Choices>
          <Choices>
            {found.maps.map(({ driverId }) => (
              <Button
                key={driverId}
                aria-pressed={mapOf === driverId}
                onPress={() => onMap(mapOf === driverId ? null : driverId)}
              >
                {mapOf === driverId ? 'Hide the map of' : 'Map of'}{' '}
                {own.find(({ id }) => id === driverId)?.name}
              </Button>
            ))}
          </Choices>
          {mapOf !== null && (
            <Quiet>
              The darker, the less ripple with its middle there, on the front that was found. Drag
              the driver over it.
            </Quiet>
          )}
        </>
      )}
    </Layout>
  );
}

interface Row {
  readonly told: string;
  readonly layout: FoundLayout;
}

const rowsOf = (before: FoundLayout, best: FoundLayout, centred: FoundLayout | null): Row[] => [
  { told: 'now', layout: before },
  { told: 'found', layout: best },
  ...(centred ? [{ told: 'centred', layout: centred }] : []),
];

function FoundTable({ design, rows }: { readonly design: Design; readonly rows: readonly Row[] }) {
  const ids = [...rows[0].layout.scores.keys()];
  return (
    <Table aria-label="Ripple of the places found">
      <thead>
        <tr>
          <th>ripple, dB</th>
          {rows.map(({ told }) => (
            <th key={told}>{told}</th>
          ))}
        </tr>
      </thead>
      <tbody>
        {ids.flatMap((id) =>
          (['axis', 'window'] as const).map((where) => (
            <tr key={`${id} ${where}`}>
              <td>
                {design.drivers.find((driver) => driver.id === id)?.name}, {where}
              </td>
              {rows.map(({ told, layout }) => {
                const score = layout.scores.get(id);
                return <td key={told}>{score && db(score[where].mostDb)}</td>;
              })}
            </tr>
          )),
        )}
        <tr>
          <td>all, rms</td>
          {rows.map(({ told, layout }) => (
            <td key={told}>{formatFixed(layout.meritDb, 2)}</td>
          ))}
        </tr>
      </tbody>
    </Table>
  );
}

function centredWords(best: FoundLayout, centred: FoundLayout | null): string {
  if (!centred) return 'Centred, the drivers do not fit.';
  const cost = centred.meritDb - best.meritDb;
  return cost < 0.02
    ? 'Centred drivers cost nothing here.'
    : `Centred drivers cost ${formatFixed(cost, 2)} dB rms of ripple.`;
}

const Layout = styled.div`
  display: grid;
  gap: 0.6rem;
`;

const Table = styled.table`
  ${tableLook}
`;
