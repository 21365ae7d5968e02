'use client';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { QuantityField } from '@/ui/fields/QuantityField';
import { Quiet } from '@/ui/sheets';
import { SwitchList } from './Switches';
import { TerminalPairs } from './TerminalPairs';

const hundredths = (value: number, steps: number, isFine: boolean) =>
  Math.round((value + steps * (isFine ? 0.001 : 0.01)) * 1000) / 1000;

/** The amplifier, its terminals and cable, the place of the sum, the switches. */
export function SourceInspector() {
  const desk = useDesk();
  const amplifier = useDeskState((state) => state.design.amplifier);
  const distanceMm = useDeskState((state) => state.design.listeningDistanceMm);
  const hasWays = useDeskState((state) => state.design.ways.length > 0);
  const set = (more: Partial<typeof amplifier>, label: string, runKey?: string) =>
    desk.change({ type: 'setAmplifier', amplifier: { ...amplifier, ...more } }, label, runKey);
  return (
    <>
      <h2>Amplifier and place</h2>
      <QuantityField
        label="Voltage"
        value={amplifier.volts}
        dimension="volt"
        min={0.001}
        max={200}
        onCommit={(volts) => set({ volts }, 'amplifier voltage')}
      />
      <QuantityField
        label="Output resistance"
        value={amplifier.outputOhms}
        dimension="ohm"
        min={0}
        max={100}
        step={hundredths}
        onCommit={(outputOhms) => set({ outputOhms }, 'output resistance', 'output')}
      />
      <QuantityField
        label="Cable, both conductors"
        value={amplifier.cableOhms}
        dimension="ohm"
        min={0}
        max={100}
        step={hundredths}
        onCommit={(cableOhms) => set({ cableOhms }, 'cable', 'cable')}
      />
      <QuantityField
        label="Sum taken on the design axis at"
        value={distanceMm}
        dimension="millimetre"
        min={100}
        max={100_000}
        step={(value, steps, isFine) => value + steps * (isFine ? 10 : 100)}
        onCommit={(next) =>
          desk.change(
            { type: 'setListeningDistance', distanceMm: next },
            'listening distance',
            'distance',
          )
        }
      />
      {hasWays && (
        <>
          <TerminalPairs />
          <SwitchList />
          <Quiet>
            Choose a part to change it: click it, or reach it with Tab and the arrow keys. + adds
            one.
          </Quiet>
        </>
      )}
    </>
  );
}
