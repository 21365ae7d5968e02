'use client';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Input, Label, TextField } from 'react-aria-components';
import styled from 'styled-components';
import type { Impression } from '@/core/log/log';
import { cutText } from '@/core/text';
import { formatNumber } from '@/core/units/quantity';
import { Button, PrimaryButton } from '@/ui/Button';
import { fieldLook, labelLook } from '@/ui/fields/field';
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

/** Level as typed, or null; a decimal comma is understood. */
function levelOf(text: string): number | null {
  const level = Number(text.replace(',', '.').replace(/\s*dB$/i, ''));
  return text.trim() !== '' && level >= 20 && level <= 130 ? level : null;
}

/** What was heard, in a form that can be compared later. */
export function Impressions({ impressions, onChange }: ImpressionsProps) {
  const [draft, setDraft] = useState<Draft | null>(null);
  const keep = () => {
    if (!draft || draft.heard.trim() === '') return;
    const { heard, where, programme, company } = draft;
    onChange([
      ...impressions,
      {
        heard: cutText(heard, 500).trim(),
        where: cutText(where, 80).trim(),
        programme: cutText(programme, 80).trim(),
        company: cutText(company, 80).trim(),
        levelDb: levelOf(draft.levelDb),
      },
    ]);
    setDraft(null);
  };
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
      {draft === null ? (
        <Button onPress={() => setDraft(empty)}>Write down what was heard</Button>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            keep();
          }}
        >
          {questions.map(({ key, label }, i) => (
            <TextField
              key={key}
              value={draft[key]}
              onChange={(text) => setDraft({ ...draft, [key]: text })}
              maxLength={key === 'heard' ? 500 : 80}
              autoFocus={i === 0}
            >
              <Label>{label}</Label>
              <Input />
            </TextField>
          ))}
          <PrimaryButton type="submit" isDisabled={draft.heard.trim() === ''}>
            Keep it
          </PrimaryButton>
          <Button onPress={() => setDraft(null)}>Leave it</Button>
        </form>
      )}
    </Box>
  );
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
