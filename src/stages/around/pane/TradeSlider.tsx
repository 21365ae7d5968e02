'use client';
import { useId } from 'react';
import { Label, Slider, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';
import { formatFixed } from '@/core/units/quantity';
import { PrimaryButton, TextButton } from '@/ui/Button';
import { Choices, Note, Quiet } from '@/ui/sheets';
import type { TradeOffState } from '@/stages/around/useTradeOff';

const db = (value: number) => `±${formatFixed(value, 2)} dB`;
const variantName = 'axis and window';

/** A flat axis against a flat window: every place of the slider is a fitted network. */
export function TradeSlider({ trade }: { readonly trade: TradeOffState }) {
  const { places, isDone, isCurrent, trouble, chosen, place, show, take } = trade;
  const id = useId();
  const last = places.length - 1;
  return (
    <Frame aria-label="Axis against window">
      {trouble !== null ? (
        <>
          <strong>Axis against window</strong>
          <Note $kind="doubt">{trouble}</Note>
        </>
      ) : places.length < 2 || !isCurrent ? (
        <>
          <strong>Axis against window</strong>
          <Quiet role="status">
            {isDone && isCurrent
              ? 'With these parts one network is the best for both.'
              : 'Fitting networks between a flat axis and a flat window …'}
          </Quiet>
        </>
      ) : (
        <>
          <Slider
            minValue={0}
            maxValue={last}
            step={1}
            value={chosen ?? 0}
            onChange={(value) => show(Array.isArray(value) ? (value[0] as number) : value)}
          >
            <Label>Axis against window</Label>
            <SliderTrack>
              <SliderThumb aria-describedby={`${id}-told`} />
            </SliderTrack>
          </Slider>
          <Ends>
            <span>axis {db(places[0].axisDb)}</span>
            <span>window {db(places[last].windowDb)}</span>
          </Ends>
          {place ? (
            <>
              <output>
                <span id={`${id}-told`}>
                  axis {db(place.axisDb)}, window {db(place.windowDb)}
                  {place.brokenCount > 0 &&
                    `; ${place.brokenCount} other limit${place.brokenCount === 1 ? '' : 's'} exceeded`}
                </span>
              </output>
              <Choices>
                <PrimaryButton onPress={() => take(null)}>Take it over</PrimaryButton>
                <TextButton onPress={() => take(variantName)}>as a variant</TextButton>
                <TextButton onPress={() => show(null)}>mine</TextButton>
              </Choices>
            </>
          ) : (
            <Quiet>
              {isDone
                ? 'Move it: each place is a network with the same parts, fitted.'
                : 'More are being fitted …'}
            </Quiet>
          )}
        </>
      )}
    </Frame>
  );
}

const Frame = styled.section`
  display: grid;
  gap: 0.25rem;
  font-size: 0.8125rem;
  label,
  strong {
    font-weight: 600;
  }
  output,
  button {
    font-size: 0.6875rem;
  }
  .react-aria-SliderTrack {
    position: relative;
    height: 24px;
    margin: 0 9px;
    &::before {
      content: '';
      position: absolute;
      inset: 10px -9px;
      background: ${({ theme }) => theme.colour.rule};
      border-radius: 2px;
    }
  }
  .react-aria-SliderThumb {
    top: 50%;
    width: 18px;
    height: 18px;
    border-radius: 50%;
    background: ${({ theme }) => theme.colour.accent};
    &[data-focus-visible] {
      outline: 2px solid ${({ theme }) => theme.colour.accent};
      outline-offset: 2px;
    }
  }
`;

const Ends = styled.div`
  display: flex;
  justify-content: space-between;
  font-size: 0.6875rem;
  color: ${({ theme }) => theme.colour.quiet};
`;
