'use client';
import { useEffect, useMemo, useState } from 'react';
import styled from 'styled-components';
import { messageOf } from '@/core/problem';
import { differences } from '@/core/told/difference';
import { levelDifferenceDb } from '@/core/prediction/figures';
import type { VersionSummary } from '@/core/log/log';
import { figureText, kinds } from '@/core/promises/kinds/kinds';
import { movements } from '@/core/promises/movement';
import { useDeskState } from '@/desk/DeskContext';
import { Choice } from '@/ui/fields/Choice';
import { Sources, SourcesOf } from '@/desk/curves/Sources';
import { TextButton } from '@/ui/Button';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import type { Curve } from '@/ui/chart/curve';
import { levelScale, ohmScale } from '@/ui/chart/window';
import { Note, Quiet, tableLook } from '@/ui/sheets';
import { titleOf } from './logWords';
import type { Shown } from '@/desk/useLog';

interface ComparisonProps {
  readonly version: VersionSummary;
  readonly versions: readonly VersionSummary[];
  readonly stateAt: (revision: number) => Promise<Shown>;
}

const now = 'now';

/**
 * The chosen version against the present state or any other: curves, parts and answers, promises.
 * The newest version is held against the one before it, every other against the present state,
 * until something else is chosen.
 */
export function Comparison({ version, versions, stateAt }: ComparisonProps) {
  const [choice, setChoice] = useState<{ of: number; against: string } | null>(null);
  const before = versions.find(({ number }) => number < version.number);
  const usual = version === versions[0] && before ? String(before.number) : now;
  const against = choice?.of === version.number ? choice.against : usual;
  const other = versions.find(({ number }) => String(number) === against);
  const chosen = useSaved(version.lastRevision, stateAt);
  const saved = useSaved(other?.lastRevision ?? null, stateAt);
  const present = usePresent();
  const own = { name: `v${version.number}`, shown: chosen.shown };
  const second = other
    ? { name: `v${other.number}`, shown: saved.shown }
    : { name: 'now', shown: present };
  const [earlier, later] = other && other.number < version.number ? [second, own] : [own, second];
  const options = [
    { id: now, text: 'now, on the desk' },
    ...versions
      .filter(({ number }) => number !== version.number)
      .slice(0, 300)
      .map((one) => ({ id: String(one.number), text: `v${one.number}: ${titleOf(one)}` })),
  ];
  const trouble = chosen.trouble ?? saved.trouble;
  return (
    <Section aria-label="Comparison">
      <header>
        <h3>v{version.number} against</h3>
        <Choice
          label="Compare with"
          hideLabel
          options={options}
          value={against}
          onChange={(id) => setChoice({ of: version.number, against: id })}
        />
      </header>
      {trouble && <Note $kind="alarm">{trouble}</Note>}
      {earlier.shown && later.shown ? (
        <Compared
          earlier={earlier.shown}
          later={later.shown}
          names={`${earlier.name} ${later.name}`}
        />
      ) : (
        <Quiet>{trouble ? '' : 'Working it out …'}</Quiet>
      )}
    </Section>
  );
}

function usePresent(): Shown | null {
  const design = useDeskState((state) => state.predictedDesign);
  const prediction = useDeskState((state) => state.prediction);
  const judged = useDeskState((state) => state.judged);
  return useMemo(
    () => design && prediction && { design, prediction, judged },
    [design, prediction, judged],
  );
}

/** A saved state as soon as it is there. */
function useSaved(revision: number | null, stateAt: ComparisonProps['stateAt']) {
  const [found, setFound] = useState<{
    revision: number;
    shown: Shown | null;
    trouble: string | null;
  } | null>(null);
  useEffect(() => {
    if (revision === null) return;
    let isWanted = true;
    stateAt(revision)
      .then((shown) => isWanted && setFound({ revision, shown, trouble: null }))
      .catch((error: unknown) => {
        const trouble = messageOf(error);
        if (isWanted) setFound({ revision, shown: null, trouble });
      });
    return () => {
      isWanted = false;
    };
  }, [revision, stateAt]);
  return found?.revision === revision ? found : { shown: null, trouble: null };
}

interface ComparedProps {
  readonly earlier: Shown;
  readonly later: Shown;
  /** Both names with a space between: one text, so that nothing is drawn anew while they stay. */
  readonly names: string;
}

const difference = { bottom: -25, top: 25 };

function Compared({ earlier, later, names: both }: ComparedProps) {
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const { onAxis, load, change, levels, ohms } = useMemo(
    () => curvesOf(earlier, later, both),
    [earlier, later, both],
  );
  const names = both.split(' ');
  const shared = { frequencyHz: later.prediction.frequencyHz, cursorHz, onCursor: setCursorHz };
  const differing = differences(earlier.design, later.design);
  const moved = movements(earlier.judged, later.judged).filter(
    ({ before, after }) => before !== null || after !== null,
  );
  return (
    <>
      {onAxis.length > 0 && (
        <Charts>
          <FrequencyChart {...shared} title="On axis" curves={onAxis} {...levels} unit="dB" />
          <FrequencyChart {...shared} title="Impedance" curves={load} {...ohms} unit="Ω" />
          <FrequencyChart
            {...shared}
            title="Change of level"
            curves={change}
            {...difference}
            unit="dB"
          />
        </Charts>
      )}
      <div>
        <Sources button={<TextButton>Where these come from</TextButton>}>
          <SourcesOf design={earlier.design} name={names[0]} />
          <SourcesOf design={later.design} name={names[1]} />
        </Sources>
      </div>
      <Columns>
        <div>
          <h4>Promises</h4>
          {moved.length === 0 ? (
            <Quiet>None can be judged yet.</Quiet>
          ) : (
            <table>
              <thead>
                <tr>
                  <th scope="col">promise</th>
                  <th scope="col">{names[0]}</th>
                  <th scope="col">{names[1]}</th>
                  <th scope="col">is</th>
                </tr>
              </thead>
              <tbody>
                {moved.map(({ promiseId, kind, before, after, direction, isKept }) => (
                  <tr key={promiseId} data-direction={direction}>
                    <th scope="row">{kinds[kind].title}</th>
                    <td>{before === null ? '–' : figureText(kind, before)}</td>
                    <td>{after === null ? '–' : figureText(kind, after)}</td>
                    <td>
                      {direction === 'better' ? '▲ better' : direction === 'worse' ? '▼ worse' : ''}
                      {isKept === false && ' (not kept)'}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <div>
          <h4>Parts, answers and the rest</h4>
          {differing.length === 0 ? (
            <Quiet>Nothing differs.</Quiet>
          ) : (
            <table>
              <thead>
                <tr>
                  <th scope="col">what</th>
                  <th scope="col">{names[0]}</th>
                  <th scope="col">{names[1]}</th>
                </tr>
              </thead>
              <tbody>
                {differing.map(({ about, what, before, after }) => (
                  <tr key={about + what}>
                    <th scope="row">{what}</th>
                    <td>{before ?? '–'}</td>
                    <td>{after ?? '–'}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
      </Columns>
    </>
  );
}

function curvesOf(earlier: Shown, later: Shown, both: string) {
  const names = both.split(' ');
  const [a, b] = [earlier.prediction, later.prediction];
  const before = { colour: 'var(--curve-2)', dash: '5 3', width: 1.5 } as const;
  const after = { colour: 'var(--ink)', width: 1.8, labelAt: 'start' } as const;
  const onAxis: Curve[] = [];
  const load: Curve[] = [];
  const change: Curve[] = [];
  if (a.sum) onAxis.push({ ...before, id: 'earlier', label: names[0], values: a.sum.levelDb });
  if (b.sum) onAxis.push({ ...after, id: 'later', label: names[1], values: b.sum.levelDb });
  if (a.sum && b.sum)
    change.push({
      ...after,
      id: 'change',
      label: '',
      values: levelDifferenceDb(b.sum.levelDb, a.sum.levelDb),
    });
  if (a.impedance)
    load.push({ ...before, id: 'earlier-z', label: names[0], values: a.impedance.ohms });
  if (b.impedance)
    load.push({ ...after, id: 'later-z', label: names[1], values: b.impedance.ohms });
  return {
    onAxis,
    load,
    change,
    levels: levelScale((b.sum ?? a.sum)?.levelDb ?? []),
    ohms: ohmScale((b.impedance ?? a.impedance)?.ohms ?? []),
  };
}

const Section = styled.section`
  margin-top: 0.9rem;
  padding-top: 0.7rem;
  border-top: 1px solid ${({ theme }) => theme.colour.rule};
  header {
    display: flex;
    align-items: center;
    gap: 0.6rem;
  }
  h4 {
    margin: 0.4rem 0 0.2rem;
    font-size: ${({ theme }) => theme.size.small};
  }
`;

const Charts = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
`;

const Columns = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.3fr);
  gap: 1.5rem;
  table {
    ${tableLook}
  }
  th {
    white-space: nowrap;
  }
  td {
    overflow-wrap: anywhere;
  }
  tr[data-direction='better'] td:last-child {
    color: ${({ theme }) => theme.colour.accent};
  }
  tr[data-direction='worse'] td:last-child {
    color: ${({ theme }) => theme.colour.alarm};
  }
`;
