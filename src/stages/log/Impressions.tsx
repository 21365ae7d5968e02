'use client';
import { Trash2 } from 'lucide-react';
import { useId, useRef, useState } from 'react';
import { Input, Label, TextField } from 'react-aria-components';
import styled from 'styled-components';
import { listeningLevelsDb, type Impression } from '@/core/log/log';
import { ProblemError } from '@/core/problem';
import { cutText } from '@/core/text';
import { formatNumber, parseWithin } from '@/core/units/quantity';
import { Button, PrimaryButton } from '@/ui/Button';
import { FieldError, fieldLook, labelLook } from '@/ui/fields/field';
import { useAtEnd } from '@/ui/fields/useAtEnd';
import { tableLook } from '@/ui/sheets';

interface ImpressionsProps {
  readonly impressions: readonly Impression[];
  readonly onChange: (impressions: Impression[]) => void;
}

type Draft = Record<'heard' | 'where' | 'programme' | 'levelDb' | 'company', string>;

const empty: Draft = { heard: '', where: '', programme: '', levelDb: '', company: '' };

const questions: readonly { readonly key: keyof Draft; readonly label: string }[] = [
  { key: 'heard', label: 'What was heard' },
  { key: 'where', label: 'Where (seat)' },
  { key: 'programme', label: 'Programme' },
  { key: 'levelDb', label: 'Level, dB' },
  { key: 'company', label: 'With whom' },
];

/** What was heard, in a form that can be compared later. */
export function Impressions({ impressions, onChange }: ImpressionsProps) {
  const [state, setState] = useState<'read' | 'written' | 'read after it'>('read');
  return (
    <Box aria-label="Listening impressions">
      {impressions.length > 0 && (
        <table>
          <thead>
            <tr>
              {questions.map(({ key, label }) => (
                <th key={key} scope="col">
                  {label}
                </th>
              ))}
              <td />
            </tr>
          </thead>
          <tbody>
            {impressions.map((one, i) => (
              <tr key={i}>
                <td>{one.heard}</td>
                <td>{one.where}</td>
                <td>{one.programme}</td>
                <td>{one.levelDb === null ? '' : formatNumber(one.levelDb)}</td>
                <td>{one.company}</td>
                <td>
                  <Button
                    aria-label={`Take “${one.heard.slice(0, 30)}” away`}
                    onPress={() => onChange(impressions.filter((_, other) => other !== i))}
                  >
                    <Trash2 size={12} aria-hidden />
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {state === 'written' ? (
        <WrittenImpression
          onKeep={(one) => onChange([...impressions, one])}
          onDone={() => setState('read after it')}
        />
      ) : (
        <Button autoFocus={state === 'read after it'} onPress={() => setState('written')}>
          Write down what was heard
        </Button>
      )}
    </Box>
  );
}

interface WrittenImpressionProps {
  readonly onKeep: (impression: Impression) => void;
  readonly onDone: () => void;
}

/** It is kept as well when the view goes away before it is said to be. */
function WrittenImpression({ onKeep, onDone }: WrittenImpressionProps) {
  const [draft, setDraft] = useState(empty);
  const [isLevelUnread, setIsLevelUnread] = useState(false);
  const isDone = useRef(false);
  const levelErrorId = useId();
  const done = () => {
    isDone.current = true;
    onDone();
  };
  const keep = (levelDb: number | null) => {
    const { heard, where, programme, company } = draft;
    onKeep({
      heard: cutText(heard, 500).trim(),
      where: cutText(where, 80).trim(),
      programme: cutText(programme, 80).trim(),
      company: cutText(company, 80).trim(),
      levelDb,
    });
  };
  const isHeard = draft.heard.trim() !== '';
  useAtEnd(() => {
    if (!isHeard || isDone.current) return;
    const level = levelOf(draft.levelDb);
    keep(level === 'unread' ? null : level);
    done();
  });
  const submit = () => {
    if (!isHeard) return;
    const level = levelOf(draft.levelDb);
    setIsLevelUnread(level === 'unread');
    if (level === 'unread') return;
    keep(level);
    done();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      {questions.map(({ key, label }, i) => {
        const isUnread = key === 'levelDb' && isLevelUnread;
        return (
          <TextField
            key={key}
            value={draft[key]}
            onChange={(text) => {
              setDraft({ ...draft, [key]: text });
              if (isUnread) setIsLevelUnread(false);
            }}
            maxLength={key === 'heard' ? 500 : 80}
            autoFocus={i === 0}
            isInvalid={isUnread}
          >
            <Label>{label}</Label>
            <Input aria-describedby={isUnread ? levelErrorId : undefined} />
          </TextField>
        );
      })}
      <PrimaryButton type="submit" isDisabled={!isHeard}>
        Keep it
      </PrimaryButton>
      <Button onPress={done}>Leave it</Button>
      {isLevelUnread && (
        <FieldError id={levelErrorId} role="alert">
          Type a level between {listeningLevelsDb.min} and {listeningLevelsDb.max} dB, such as 76,
          or leave it empty.
        </FieldError>
      )}
    </form>
  );
}

/** A level as typed; null when nothing was, `unread` when it is none that one listens at. */
function levelOf(text: string): number | null | 'unread' {
  if (text.trim() === '') return null;
  const { min, max } = listeningLevelsDb;
  try {
    return parseWithin(text, 'decibel', min, max);
  } catch (error) {
    if (!(error instanceof ProblemError)) throw error;
    return 'unread';
  }
}

const Box = styled.section`
  margin: 0.5rem 0;
  table {
    ${tableLook}
    margin-bottom: 0.4rem;
  }
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: flex-end;
    gap: 0.5rem;
  }
  form .react-aria-TextField {
    display: grid;
  }
  form [role='alert'] {
    flex-basis: 100%;
  }
  form .react-aria-TextField:first-child {
    flex: 1 0 16rem;
  }
  label {
    ${labelLook}
  }
  input {
    ${fieldLook}
    width: 100%;
    max-width: 100%;
  }
  form .react-aria-TextField:not(:first-child) input {
    width: 8.5rem;
  }
`;
