'use client';
import { ArrowDown, ArrowUp, Trash2 } from 'lucide-react';
import { Button as MenuButton, Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { withStep } from '@/core/measurement/recipe';
import {
  type Step,
  type StepKind,
  firstStep,
  stepKinds,
  stepName,
} from '@/core/measurement/steps/kinds';
import { sentence } from '@/core/problem';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { MenuSheet, Note, Quiet } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { StepSentence } from './StepSentence';

interface StepListProps {
  readonly measurement: Measurement;
  readonly examination: Examination | null;
}

/**
 * What is done to a response before the design uses it: steps that can be changed, moved, switched
 * off and copied.
 */
export function StepList({ measurement, examination }: StepListProps) {
  const desk = useDesk();
  const { id, name, recipe } = measurement;
  const measurements = useDeskState((state) => state.design.measurements);
  const widthMm = useDeskState((state) => state.design.brief.widthMm);
  const sdCm2 = useDeskState(
    (state) =>
      state.design.drivers.find(({ responseId }) => responseId === id)?.sheet.sdCm2 ?? null,
  );
  const samples = desk.samples(id);
  const others = measurements.filter((other) => other.kind === 'response' && other.id !== id);
  const set = (next: readonly Step[], label: string, mergeKey?: string) =>
    desk.change(
      { type: 'editMeasurement', id, set: { recipe: [...next] } },
      `${label}, ${name}`,
      mergeKey,
    );
  const replace = (at: number, step: Step) =>
    set(recipe.with(at, step), stepName(step.kind).toLowerCase(), `step ${id} ${at}`);
  return (
    <section aria-label="Steps">
      <Head>
        <h3>What is done to it</h3>
        <MenuTrigger>
          <Add isDisabled={!samples}>Add a step</Add>
          <Popover>
            <MenuSheet>
              <Menu
                aria-label="Step to add"
                onAction={(kind) =>
                  samples &&
                  set(
                    withStep(
                      recipe,
                      firstStep(kind as StepKind, samples, { others, sdCm2, widthMm }),
                    ),
                    `add ${stepName(kind as StepKind).toLowerCase()}`,
                  )
                }
                disabledKeys={others.length === 0 ? ['splice'] : []}
              >
                {stepKinds.map((kind) => (
                  <MenuItem key={kind} id={kind}>
                    {stepName(kind)}
                  </MenuItem>
                ))}
              </Menu>
            </MenuSheet>
          </Popover>
        </MenuTrigger>
        {recipe.length > 0 && others.length > 0 && (
          <MenuTrigger>
            <Add>Copy the steps to …</Add>
            <Popover>
              <MenuSheet>
                <Menu
                  aria-label="Copy the steps to"
                  onAction={(key) =>
                    desk.change(
                      {
                        type: 'editMeasurements',
                        ids: key === 'all' ? others.map((other) => other.id) : [String(key)],
                        set: { recipe },
                      },
                      `copy the steps of ${name}`,
                    )
                  }
                >
                  <MenuItem id="all">All other responses</MenuItem>
                  {others.slice(0, 30).map((other) => (
                    <MenuItem key={other.id} id={other.id}>
                      {other.name}
                    </MenuItem>
                  ))}
                </Menu>
              </MenuSheet>
            </Popover>
          </MenuTrigger>
        )}
      </Head>
      {recipe.length === 0 && <Quiet>Nothing: the design uses it as it was measured.</Quiet>}
      <ol>
        {recipe.map((step, at) => {
          const trouble = examination?.conditioned.troubles.get(at);
          const note = examination?.conditioned.notes.get(at);
          return (
            <Row key={`${step.kind} ${at}`}>
              <Tick
                isSelected={step.isOn}
                onChange={(isOn) => set(recipe.with(at, { ...step, isOn }), 'switch a step')}
                aria-label={`${stepName(step.kind)} in use`}
              >
                <strong>{stepName(step.kind)}</strong>
              </Tick>
              <Buttons>
                <Button
                  aria-label={`Move ${stepName(step.kind)} up`}
                  isDisabled={at === 0}
                  onPress={() =>
                    set(recipe.toSpliced(at, 1).toSpliced(at - 1, 0, step), 'move a step')
                  }
                >
                  <ArrowUp size={12} aria-hidden />
                </Button>
                <Button
                  aria-label={`Move ${stepName(step.kind)} down`}
                  isDisabled={at === recipe.length - 1}
                  onPress={() =>
                    set(recipe.toSpliced(at, 1).toSpliced(at + 1, 0, step), 'move a step')
                  }
                >
                  <ArrowDown size={12} aria-hidden />
                </Button>
                <Button
                  aria-label={`Remove ${stepName(step.kind)}`}
                  onPress={() => set(recipe.toSpliced(at, 1), 'remove a step')}
                >
                  <Trash2 size={12} aria-hidden />
                </Button>
              </Buttons>
              <p>
                <StepSentence step={step} others={others} onChange={(next) => replace(at, next)} />
              </p>
              {trouble && <Note $kind="alarm">Skipped: {sentence({ ...trouble, where: '' })}</Note>}
              {note !== undefined && <Quiet>{note}</Quiet>}
            </Row>
          );
        })}
      </ol>
    </section>
  );
}

const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 0.8rem;
  h3 {
    flex: 1;
    font-size: 0.875rem;
  }
`;

const Add = styled(MenuButton)`
  font: inherit;
  font-size: 0.8125rem;
  color: ${({ theme }) => theme.colour.accent};
  background: none;
  border: 0;
  padding: 0.1em 0.15em;
  text-decoration: underline;
  text-underline-offset: 2px;
  cursor: pointer;
`;

const Row = styled.li`
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 0.2rem 0.6rem;
  padding: 0.5rem 0;
  border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  font-size: 0.8125rem;
  > p,
  > div:not(:nth-child(2)),
  > span {
    grid-column: 1 / -1;
    line-height: 1.9;
  }
  > span {
    line-height: 1.3;
  }
`;

const Buttons = styled.div`
  display: flex;
  gap: 0.2rem;
  button {
    padding: 0.15em 0.3em;
  }
`;
