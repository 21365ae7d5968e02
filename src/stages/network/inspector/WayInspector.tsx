'use client';
import styled from 'styled-components';
import { startsFor } from '@/core/document/places';
import type { Way, WayEnd } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, TextButton } from '@/ui/Button';
import { Choice } from '@/ui/fields/Choice';
import { NameField } from '@/ui/fields/NameField';
import { Quiet } from '@/ui/sheets';
import { CrossoverNotes } from './CrossoverNotes';
import { Row } from './inspectorLook';
import { PlaceChoice } from './PlaceChoice';
import { StartingPoints } from './StartingPoints';
import { SwitchMembership } from './Switches';
import { useNetworkEdits } from '@/stages/network/edits/useNetworkEdits';
import { WayInsight } from './WayInsight';

const noDriver = 'none';
const itself = 'itself';
const polarities = [
  { id: 'normal', text: 'in phase' },
  { id: 'reversed', text: 'reversed' },
] as const;

/** What is known about a way: where it starts, what it drives, what it begins with. */
export function WayInspector({ way }: { readonly way: Way }) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const design = useDeskState((state) => state.design);
  const others = design.ways.filter(({ id, parts }) => id !== way.id && parts.length > 0);
  const selection = { kind: 'way', id: way.id } as const;
  const starts = startsFor(design, way.id);
  return (
    <>
      <h2>
        <NameField
          label="Way name"
          value={way.name}
          onCommit={(name) =>
            desk.change({ type: 'editWay', id: way.id, set: { name } }, 'rename a way')
          }
        />
      </h2>
      <Ends way={way} />
      <Choice
        label="Polarity"
        options={polarities}
        value={way.polarity}
        onChange={(polarity) =>
          desk.change({ type: 'editWay', id: way.id, set: { polarity } }, `polarity of ${way.name}`)
        }
      />
      {starts.length > 1 && (
        <PlaceChoice
          label="It starts from"
          places={starts}
          value={way.from}
          onChange={(from) =>
            desk.change({ type: 'editWay', id: way.id, set: { from } }, `start of ${way.name}`)
          }
        />
      )}
      <Row>
        <Button onPress={() => edits.flip(selection)}>
          Flip polarity <kbd>P</kbd>
        </Button>
        <Button onPress={() => edits.addBridge(selection)}>
          Bridge it <kbd>J</kbd>
        </Button>
        <Button onPress={() => edits.remove(selection)}>
          Remove way <kbd>Del</kbd>
        </Button>
      </Row>
      <SwitchMembership kind="way" id={way.id} name={`the polarity of ${way.name}`} />
      <CrossoverNotes way={way} />
      <WayInsight way={way} />
      <Mirror way={way} />
      {others.length > 0 && way.mirrorOf === undefined && (
        <Choice
          label="Its filter"
          placeholder="take a copy of another’s …"
          options={others.map(({ id, name }) => ({ id, text: `copy that of ${name}` }))}
          value={null}
          onChange={(id) => {
            const from = others.find((other) => other.id === id);
            if (from) edits.copyFilter(from, way);
          }}
        />
      )}
      <Quiet>
        R, L, C add a part in series before the driver; with Shift in shunt. Ctrl+C takes the filter
        along, to another variant or project too; Ctrl+V puts it here.
      </Quiet>
      <h3>Begin with</h3>
      <StartingPoints key={way.id} way={way} />
    </>
  );
}

/** Whether a way's filter is always that of another. */
function Mirror({ way }: { readonly way: Way }) {
  const desk = useDesk();
  const ways = useDeskState((state) => state.design.ways);
  const originals = ways.filter(({ id, mirrorOf }) => id !== way.id && mirrorOf === undefined);
  // A way that others mirror can't mirror one itself.
  if (originals.length === 0 || ways.some(({ mirrorOf }) => mirrorOf === way.id)) return null;
  const nameOf = (id: string | null) => ways.find((other) => other.id === id)?.name ?? '';
  return (
    <Choice
      label="A change to its filter"
      options={[
        { id: itself, text: 'is its own' },
        ...originals.map(({ id, name }) => ({ id, text: `is one to that of ${name} too` })),
      ]}
      value={way.mirrorOf ?? itself}
      onChange={(id) => {
        const ofId = id === itself ? null : id;
        desk.change(
          { type: 'mirrorWay', id: way.id, ofId },
          ofId === null ? `${way.name} is alone` : `${way.name} mirrors ${nameOf(ofId)}`,
        );
      }}
    />
  );
}

/** The drivers at the end of a way. */
function Ends({ way }: { readonly way: Way }) {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const drivers = useDeskState((state) => state.design.drivers);
  const setEnds = (ends: Way['ends']) =>
    desk.change({ type: 'editWay', id: way.id, set: { ends } }, `drivers of ${way.name}`);
  const replaced = (e: number, end: WayEnd | null) =>
    setEnds(way.ends.flatMap((one, i) => (i !== e ? [one] : end ? [end] : [])));
  const options = drivers.map(({ id, name }) => ({ id, text: name }));
  const unused = drivers.filter(({ id }) => !way.ends.some(({ driverId }) => driverId === id));
  return (
    <>
      {(way.ends.length > 0 ? way.ends : [null]).map((end, e) => (
        <div key={e}>
          <Choice
            label={e === 0 ? 'Driver at its end' : `Driver ${e + 1}`}
            options={[{ id: noDriver, text: 'no driver' }, ...options]}
            value={end?.driverId ?? noDriver}
            onChange={(id) =>
              id === noDriver
                ? replaced(e, null)
                : end
                  ? replaced(e, { ...end, driverId: id })
                  : setEnds([{ driverId: id, polarity: 'normal' }])
            }
          />
          {end && way.ends.length > 1 && (
            <Small>
              It is {end.polarity === 'normal' ? 'in phase with the way' : 'turned against the way'}
              .{' '}
              <TextButton
                onPress={() =>
                  replaced(e, {
                    ...end,
                    polarity: end.polarity === 'normal' ? 'reversed' : 'normal',
                  })
                }
                aria-label={`Turn driver ${e + 1} round`}
              >
                Turn it round
              </TextButton>
            </Small>
          )}
        </div>
      ))}
      {way.ends.length > 1 && (
        <Choice
          label="Its drivers are joined"
          options={[
            { id: 'parallel', text: 'in parallel' },
            { id: 'series', text: 'in series' },
          ]}
          value={way.endsJoin}
          onChange={(endsJoin) =>
            desk.change(
              { type: 'editWay', id: way.id, set: { endsJoin } },
              `drivers of ${way.name} ${endsJoin === 'series' ? 'in series' : 'in parallel'}`,
            )
          }
        />
      )}
      {way.ends.length > 0 && way.ends.length < 8 && (
        <Row>
          <Button onPress={() => edits.addTwin(way)}>Add one like it</Button>
          {unused.length > 0 && (
            <Choice
              label="Add another driver"
              hideLabel
              placeholder="add another …"
              options={unused.map(({ id, name }) => ({ id, text: name }))}
              value={null}
              onChange={(driverId) => setEnds([...way.ends, { driverId, polarity: 'normal' }])}
            />
          )}
        </Row>
      )}
      {way.ends.map(({ driverId }) => {
        const driver = drivers.find(({ id }) => id === driverId);
        return (
          driver && (
            <SwitchMembership
              key={driverId}
              kind="driver"
              id={driverId}
              name={`the place of ${driver.name}`}
            />
          )
        );
      })}
    </>
  );
}

const Small = styled.p`
  font-size: 0.8125rem;
`;
