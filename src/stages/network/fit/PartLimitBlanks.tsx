'use client';
import styled from 'styled-components';
import { driveVoltsOf } from '@/core/document/programme';
import type { PartLimits, PriceRates } from '@/core/fitting/limits';
import { useDeskState } from '@/desk/DeskContext';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';
import { useSheetChoices } from './sheetChoices';

const rateWords: readonly (readonly [rate: keyof PriceRates, words: string, label: string])[] = [
  ['resistor', 'a resistor', 'price of a resistor'],
  ['coil', 'a coil', 'price of a coil without its copper'],
  ['copperPerKg', 'and its copper per kg', 'price of copper per kilogram'],
  ['capacitor', 'a capacitor', 'price of a capacitor without its capacitance'],
  ['perMicrofarad', 'and each µF', 'price of a microfarad'],
];

/** What fits and searches keep within besides the promises: heat of resistors, cost of parts. */
export function PartLimitBlanks() {
  const { limits, set } = useSheetChoices();
  const currency = useDeskState((state) => state.design.brief.currency);
  const isPowerKnown = useDeskState((state) => driveVoltsOf(state.design) !== null);
  const limit = (change: Partial<PartLimits>) => set({ limits: { ...limits, ...change } });
  return (
    <>
      <Sentence>
        No resistor hotter than{' '}
        <QuantityBlank
          label="most heat in a resistor"
          placeholder="any heat"
          value={limits.mostWatts}
          dimension="watt"
          min={0.1}
          max={1000}
          stepBy={1}
          onChange={(mostWatts) => limit({ mostWatts })}
        />{' '}
        under the programme that the brief means; all parts together at most {currency}{' '}
        <QuantityBlank
          label="most money for all parts"
          placeholder="any sum"
          value={limits.mostOutlay}
          dimension="number"
          min={1}
          max={1e5}
          stepBy={5}
          onChange={(mostOutlay) => limit({ mostOutlay })}
        />
        .
      </Sentence>
      <Sentence>
        Limits keep a reserve for parts within ±{' '}
        <QuantityBlank
          label="tolerance of the parts, percent"
          placeholder="no reserve"
          value={limits.tolerance === 0 ? null : Number((100 * limits.tolerance).toFixed(2))}
          dimension="number"
          min={0}
          max={20}
          stepBy={1}
          onChange={(percent) => limit({ tolerance: (percent ?? 0) / 100 })}
        />{' '}
        % of their values, so that nearly every build keeps what is promised.
      </Sentence>
      {limits.mostWatts !== null && !isPowerKnown && (
        <Quiet>The heat counts once the brief says the amplifier’s power.</Quiet>
      )}
      <details>
        <summary>Prices</summary>
        <Prices>
          {rateWords.map(([rate, words, label]) => (
            <li key={rate}>
              {words}{' '}
              <QuantityBlank
                label={label}
                value={limits.rates[rate]}
                dimension="number"
                min={0}
                max={1e4}
                stepBy={0.5}
                onChange={(price) =>
                  price !== null && limit({ rates: { ...limits.rates, [rate]: price } })
                }
              />
            </li>
          ))}
        </Prices>
        <Quiet>
          In {currency}. A coil’s copper is computed from its inductance and resistance; what it
          says is an estimate until parts are chosen.
        </Quiet>
      </details>
    </>
  );
}

const Prices = styled.ul`
  display: flex;
  flex-wrap: wrap;
  gap: 0.3rem 0.9rem;
  font-size: ${({ theme }) => theme.size.small};
  margin: 0.3rem 0;
`;
