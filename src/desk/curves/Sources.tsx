'use client';
import { Dialog, DialogTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { provenance } from '@/core/told/provenance';
import type { Design } from '@/core/document/schema';
import { MenuSheet } from '@/ui/sheets';
import { useDeskState } from '@/desk/DeskContext';

interface SourcesProps {
  /** The button that opens it. */
  readonly button: React.ReactNode;
  /** Made only when it is opened. */
  readonly children: React.ReactNode;
}

/** Where the curves of a chart come from: files, dates, steps. */
export function Sources({ button, children }: SourcesProps) {
  return (
    <DialogTrigger>
      {button}
      <Popover placement="top start">
        <MenuSheet>
          <Dialog aria-label="Where the curves come from">{children}</Dialog>
        </MenuSheet>
      </Popover>
    </DialogTrigger>
  );
}

/** The sources of the design on the desk. */
export const DeskSources = () => (
  <SourcesOf design={useDeskState((state) => state.design)} name={null} />
);

interface SourcesOfProps {
  readonly design: Design;
  /** Of the document, where there are several. */
  readonly name: string | null;
}

export function SourcesOf({ design, name }: SourcesOfProps) {
  return (
    <Told>
      {provenance(design).map(({ wayId, wayName, sources }) => (
        <div key={wayId}>
          <dt>{name === null ? wayName : `${name}: ${wayName}`}</dt>
          {sources.map((source) => (
            <dd key={source}>{source}</dd>
          ))}
        </div>
      ))}
    </Told>
  );
}

const Told = styled.dl`
  display: grid;
  gap: 0.5rem;
  max-width: 36rem;
  padding: 0.4rem 0.6rem;
  margin: 0;
  dt {
    font-weight: 600;
  }
  dd {
    margin: 0;
    font-size: ${({ theme }) => theme.size.small};
    overflow-wrap: anywhere;
  }
`;
