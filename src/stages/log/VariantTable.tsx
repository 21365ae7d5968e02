'use client';
import { useShallow } from 'zustand/react/shallow';
import { useEffect, useState } from 'react';
import { Input, TextField } from 'react-aria-components';
import styled from 'styled-components';
import type { VersionSummary } from '@/core/log/log';
import { mainLine } from '@/core/document/schema';
import { figureText, kinds } from '@/core/promises/kinds/kinds';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { fieldLook } from '@/ui/fields/field';
import { Quiet, tableLook } from '@/ui/sheets';
import { BringVariants } from './BringVariants';
import type { Shown } from '@/desk/useLog';

interface VariantTableProps {
  readonly versions: readonly VersionSummary[];
  readonly stateAt: (revision: number) => Promise<Shown>;
}

/** Alternatives side by side, each as it was left. */
export function VariantTable({ versions, stateAt }: VariantTableProps) {
  const desk = useDesk();
  const current = useDeskState((state) => state.design.variant);
  const heads = headsOf(versions);
  const shown = useHeads(heads, stateAt);
  const rows = new Map(
    heads.flatMap(({ variant }) =>
      (shown.get(variant)?.judged ?? [])
        .filter(({ verdict }) => verdict.value !== null)
        .map(({ promise }) => [promise.id, promise] as const),
    ),
  );
  const take = (variant: string, as: string) => {
    const found = shown.get(variant);
    if (!found) return;
    const label = as === variant ? `work on ${variant}` : `bring ${variant} back`;
    desk.goTo({ ...found.design, variant: as }, label);
  };
  return (
    <Section aria-label="Variants">
      <header>
        <h3>Variants</h3>
        <Quiet>alternatives tried beside the main line; now on the desk: {current}</Quiet>
        <Begin taken={heads.map(({ variant }) => variant)} />
      </header>
      {heads.length > 1 && (
        <table>
          <thead>
            <tr>
              <th scope="col">promise</th>
              {heads.map(({ variant, number }) => (
                <th key={variant} scope="col">
                  {variant} <Quiet>v{number}</Quiet>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {[...rows].map(([id, { kind }]) => (
              <tr key={id}>
                <th scope="row">{kinds[kind].title}</th>
                {heads.map(({ variant }) => {
                  const verdict = shown
                    .get(variant)
                    ?.judged.find(({ promise }) => promise.id === id)?.verdict;
                  return (
                    <td key={variant} data-kept={verdict?.isKept}>
                      {typeof verdict?.value === 'number' ? figureText(kind, verdict.value) : '–'}
                      {verdict?.isKept === false && ' not kept'}
                    </td>
                  );
                })}
              </tr>
            ))}
            <tr>
              <td />
              {heads.map(({ variant }) => (
                <td key={variant}>
                  <Button isDisabled={variant === current} onPress={() => take(variant, variant)}>
                    Work on {variant}
                  </Button>
                  {variant !== mainLine && (
                    <Button onPress={() => take(variant, mainLine)}>
                      Bring {variant} back to the main line
                    </Button>
                  )}
                </td>
              ))}
            </tr>
          </tbody>
        </table>
      )}
      <BringVariants taken={heads.map(({ variant }) => variant)} />
    </Section>
  );
}

/** The newest version of each variant, the main line first. */
function headsOf(versions: readonly VersionSummary[]): VersionSummary[] {
  const heads = new Map<string, VersionSummary>();
  for (const version of versions)
    if (!heads.has(version.variant)) heads.set(version.variant, version);
  return [...heads.values()].sort(
    (a, b) =>
      Number(b.variant === mainLine) - Number(a.variant === mainLine) || a.number - b.number,
  );
}

/** The states at the ends of the variants, by revision. */
function useHeads(heads: readonly VersionSummary[], stateAt: VariantTableProps['stateAt']) {
  const [shown, setShown] = useState<ReadonlyMap<number, Shown>>(new Map());
  const revisions = useShallow((all: readonly VersionSummary[]) =>
    all.map(({ lastRevision }) => lastRevision),
  )(heads);
  useEffect(() => {
    let isWanted = true;
    const all = revisions.map(async (revision) => [revision, await stateAt(revision)] as const);
    void Promise.allSettled(all).then((results) => {
      if (!isWanted) return;
      setShown(
        new Map(results.flatMap((result) => (result.status === 'fulfilled' ? [result.value] : []))),
      );
    });
    return () => {
      isWanted = false;
    };
  }, [revisions, stateAt]);
  return new Map(
    heads.flatMap(({ variant, lastRevision }) => {
      const found = shown.get(lastRevision);
      return found ? [[variant, found]] : [];
    }),
  );
}

/** Goes on with the present state under another name; the line it came from stays as it is. */
function Begin({ taken }: { readonly taken: readonly string[] }) {
  const desk = useDesk();
  const [name, setName] = useState('');
  const variant = name.trim();
  const isFree = variant !== '' && !taken.includes(variant);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!isFree) return;
        desk.change({ type: 'setVariant', variant }, `try ${variant}`);
        setName('');
      }}
    >
      <TextField aria-label="Name of a new variant" value={name} onChange={setName} maxLength={40}>
        <Input placeholder="name of an alternative" />
      </TextField>
      <Button type="submit" isDisabled={!isFree}>
        Try it beside
      </Button>
    </form>
  );
}

const Section = styled.section`
  margin-top: 1rem;
  padding-top: 0.7rem;
  border-top: 1px solid ${({ theme }) => theme.colour.rule};
  header,
  form {
    display: flex;
    align-items: center;
    gap: 0.6rem;
  }
  header > span {
    flex: 1;
  }
  input {
    ${fieldLook}
    width: 11rem;
  }
  table {
    ${tableLook}
    width: auto;
    margin-top: 0.4rem;
  }
  th,
  td {
    padding-right: 1.2rem;
  }
  td[data-kept='false'] {
    color: ${({ theme }) => theme.colour.alarm};
  }
  td button {
    padding: 0.15rem 0.4rem;
    margin-right: 0.3rem;
  }
`;
