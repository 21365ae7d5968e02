'use client';
import { CircleAlert, CircleCheck, CircleDashed, Info } from 'lucide-react';
import { useMemo } from 'react';
import styled from 'styled-components';
import type { Consequence } from '@/core/brief/consequence';
import { answersAgainst } from '@/core/promises/answersAgainst';
import type { Option } from '@/core/brief/options';
import { useDeskState } from '@/desk/DeskContext';
import { Arithmetic } from '@/ui/Arithmetic';
import { Quiet } from '@/ui/sheets';

/** What the answers mean, worked out as they come. */
export function Meaning() {
  const meaning = useDeskState((state) => state.study?.meaning ?? null);
  const design = useDeskState((state) => state.design);
  const against = useMemo(() => answersAgainst(design), [design]);
  return (
    <Aside aria-label="What this means" aria-live="polite">
      <h2>What this means</h2>
      {meaning === null ? (
        <Quiet>Working it out …</Quiet>
      ) : (
        <>
          <Sentences title="Answers against each other" of={against} />
          <Sentences title="Loudness" of={meaning.loudness} />
          <Sentences title="Size, F3 and loudness" of={meaning.trade} />
          <Sentences title="Amplifier and load" of={meaning.load} />
          <Sentences title="Crossover frequencies" of={meaning.crossing} />
          <Sentences title="Distance between drivers" of={meaning.spacing} />
          <Options title="Enclosure" of={meaning.enclosures} />
          <Options title="Number of ways" of={meaning.ways} />
        </>
      )}
    </Aside>
  );
}

const marks = {
  plain: Info,
  fine: CircleCheck,
  conflict: CircleAlert,
  waits: CircleDashed,
} as const;
const markWords = {
  plain: '',
  fine: 'Good: ',
  conflict: 'Contradiction: ',
  waits: 'Waits: ',
} as const;

function Sentences({ title, of }: { readonly title: string; readonly of: readonly Consequence[] }) {
  if (of.length === 0) return null;
  return (
    <section>
      <h3>{title}</h3>
      {of.map(({ id, tone, text, arithmetic }) => {
        const Mark = marks[tone];
        return (
          <Sentence key={id} data-tone={tone} data-consequence={id}>
            <Mark size={14} aria-hidden />
            <div>
              <p>
                <Spoken>{markWords[tone]}</Spoken>
                {text}
              </p>
              <Arithmetic lines={arithmetic} />
            </div>
          </Sentence>
        );
      })}
    </section>
  );
}

function Options({ title, of }: { readonly title: string; readonly of: readonly Option[] }) {
  return (
    <section>
      <h3>{title}</h3>
      {of.map(({ id, name, school, pros, cons, ruledOut, arithmetic }) => (
        <Kind key={id} data-out={ruledOut !== null}>
          <summary>
            <strong>{name}</strong>{' '}
            <Quiet>{ruledOut ?? `${pros.length} for, ${cons.length} against`}</Quiet>
          </summary>
          <p>{school}</p>
          <dl>
            {pros.length > 0 && <dt>for</dt>}
            {pros.map((line) => (
              <dd key={line}>{line}</dd>
            ))}
            {cons.length > 0 && <dt>against</dt>}
            {cons.map((line) => (
              <dd key={line}>{line}</dd>
            ))}
          </dl>
          <Arithmetic lines={arithmetic} />
        </Kind>
      ))}
    </section>
  );
}

const Aside = styled.aside`
  border-left: 1px solid ${({ theme }) => theme.colour.rule};
  font-size: 0.8125rem;
  h3 {
    font-size: ${({ theme }) => theme.size.small};
    color: ${({ theme }) => theme.colour.quiet};
    margin: 0.9rem 0 0.3rem;
    padding-bottom: 0.15rem;
    border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
  }
  summary {
    cursor: pointer;
  }
`;

const Sentence = styled.div`
  display: grid;
  grid-template-columns: 14px 1fr;
  gap: 0.5rem;
  padding: 0.2rem 0;
  > svg {
    margin-top: 0.2rem;
    color: ${({ theme }) => theme.colour.quiet};
  }
  &[data-tone='fine'] > svg {
    color: ${({ theme }) => theme.colour.accent};
  }
  &[data-tone='conflict'] > svg {
    color: ${({ theme }) => theme.colour.alarm};
  }
  &[data-tone='waits'] {
    color: ${({ theme }) => theme.colour.quiet};
  }
`;

const Spoken = styled.span`
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
  height: 1px;
  overflow: hidden;
  white-space: nowrap;
`;

const Kind = styled.details`
  padding: 0.2rem 0;
  &[data-out='true'] strong {
    text-decoration: line-through;
    color: ${({ theme }) => theme.colour.quiet};
  }
  > p,
  > details,
  dl {
    padding-left: 1rem;
  }
  > p {
    color: ${({ theme }) => theme.colour.quiet};
  }
  dt {
    font-weight: 600;
    font-size: ${({ theme }) => theme.size.small};
  }
  dd {
    padding-left: 0.8rem;
  }
`;
