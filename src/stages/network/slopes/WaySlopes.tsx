'use client';
import styled from 'styled-components';
import type { Way, WayTarget } from '@/core/document/schema';
import { useDesk } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';

const sides = [
  { key: 'highPass', word: 'rise' },
  { key: 'lowPass', word: 'fall' },
] as const;
const slopes = [
  { id: 'none', text: 'freely' },
  { id: 'butterworth 1', text: 'as Butterworth 1' },
  { id: 'butterworth 2', text: 'as Butterworth 2' },
  { id: 'butterworth 3', text: 'as Butterworth 3' },
  { id: 'butterworth 4', text: 'as Butterworth 4' },
  { id: 'linkwitz-riley 2', text: 'as Linkwitz–Riley 2' },
  { id: 'linkwitz-riley 4', text: 'as Linkwitz–Riley 4' },
  { id: 'bessel 2', text: 'as Bessel 2' },
  { id: 'bessel 3', text: 'as Bessel 3' },
  { id: 'bessel 4', text: 'as Bessel 4' },
] as const;
type SlopeId = (typeof slopes)[number]['id'];
type Slope = NonNullable<WayTarget['highPass']>;

/** The slopes that a way's response is to have: a fit works toward them too. */
export function WaySlopes({ way, told }: { readonly way: Way; readonly told: string }) {
  const desk = useDesk();
  const { highPass, lowPass } = way.target ?? { highPass: null, lowPass: null };
  const set = (side: 'highPass' | 'lowPass', slope: Slope | null) => {
    const next = { highPass, lowPass, [side]: slope };
    const target = next.highPass || next.lowPass ? next : null;
    desk.change(
      { type: 'editWay', id: way.id, set: { target } },
      `slopes of ${way.name}`,
      `slopes ${way.id} ${side}`,
    );
  };
  const current = { highPass, lowPass };
  return (
    <Sentence>
      Its response shall{' '}
      {sides.map(({ key, word }, i) => {
        const slope = current[key];
        return (
          <span key={key}>
            {i > 0 && ' and '}
            {word}{' '}
            <ChoiceBlank
              label={`how it shall ${word}`}
              options={slopes}
              value={slope ? (`${slope.alignment} ${slope.order}` as SlopeId) : 'none'}
              onChange={(id) => {
                const [alignment, order] = (id ?? 'none').split(' ');
                set(
                  key,
                  order === undefined
                    ? null
                    : ({
                        alignment,
                        order: Number(order),
                        hz: slope?.hz ?? (key === 'highPass' ? 350 : 2500),
                      } as Slope),
                );
              }}
            />
            {slope && (
              <>
                {' '}
                at{' '}
                <QuantityBlank
                  label={`where it shall ${word}`}
                  value={slope.hz}
                  dimension="hertz"
                  min={10}
                  max={40_000}
                  stepBy={50}
                  onChange={(hz) => hz !== null && set(key, { ...slope, hz })}
                />
              </>
            )}
          </span>
        );
      })}
      . {told}
    </Sentence>
  );
}

const Sentence = styled.div.attrs({ role: 'paragraph' })`
  font-size: 0.8125rem;
`;
