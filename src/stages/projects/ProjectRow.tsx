'use client';
import Link from 'next/link';
import { Button as AriaButton, Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import type { ProjectSummary } from '@/core/log/project';
import { Thumbnail } from '@/ui/chart/Thumbnail';
import { LocalTime } from '@/ui/LocalTime';
import { MenuSheet, Quiet } from '@/ui/sheets';

interface ProjectRowProps {
  readonly project: ProjectSummary;
  readonly isBusy: boolean;
  readonly onAct: (action: 'copy' | 'delete') => void;
}

/**
 * A project with what it is recognised by: its response, its drivers, how its promises are kept,
 * when it was changed.
 */
export function ProjectRow({ project, isBusy, onAct }: ProjectRowProps) {
  const { id, name, drivers, wayCount, partCount, figures, revision, updatedAt } = project;
  return (
    <Item>
      <Link href={`/p/${id}/${wayCount > 0 ? 'network' : 'bench'}`} prefetch={false}>
        <Picture>
          {figures && <Thumbnail levels={figures.thumbnail} width={132} height={44} />}
        </Picture>
        <span>
          <strong>{name}</strong>
          <Quiet>{drivers.length === 0 ? 'no drivers yet' : drivers.join(', ')}</Quiet>
        </span>
        <span>
          {promisesWords(project)}
          <Quiet>
            {counted(wayCount, 'way')}, {counted(partCount, 'part')}
          </Quiet>
        </span>
        <span>
          <LocalTime iso={updatedAt} />
          <Quiet>revision {revision}</Quiet>
        </span>
      </Link>
      <MenuTrigger>
        <More aria-label={`More for ${name}`} isDisabled={isBusy}>
          …
        </More>
        <Popover placement="bottom end">
          <MenuSheet>
            <Menu onAction={(key) => onAct(key as 'copy' | 'delete')}>
              <MenuItem id="copy">Make a copy</MenuItem>
              <MenuItem id="delete">Delete</MenuItem>
            </Menu>
          </MenuSheet>
        </Popover>
      </MenuTrigger>
    </Item>
  );
}

function promisesWords({ figures }: ProjectSummary): string {
  const judged = figures?.promises.filter(({ isKept }) => isKept !== null) ?? [];
  if (judged.length === 0) return 'no promises judged yet';
  const kept = judged.filter(({ isKept }) => isKept);
  return `${kept.length} of ${judged.length} promises kept`;
}

const counted = (count: number, noun: string) => `${count} ${noun}${count === 1 ? '' : 's'}`;

const Item = styled.li`
  display: flex;
  align-items: center;
  border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
  a {
    flex: 1;
    min-width: 0;
    display: grid;
    grid-template-columns: 132px minmax(10rem, 1fr) 12rem 11rem;
    gap: 1.1rem;
    align-items: center;
    padding: 0.55rem 0.6rem;
    color: inherit;
    text-decoration: none;
    &:hover {
      background: ${({ theme }) => theme.colour.sheet};
    }
    > span {
      display: grid;
      min-width: 0;
      > * {
        overflow: hidden;
        text-overflow: ellipsis;
        white-space: nowrap;
      }
    }
  }
`;

const Picture = styled.span`
  height: 44px;
  color: ${({ theme }) => theme.colour.accent};
`;

const More = styled(AriaButton)`
  border: 1px solid transparent;
  border-radius: ${({ theme }) => theme.radius};
  background: none;
  color: inherit;
  font: inherit;
  padding: 0.2rem 0.6rem;
  cursor: pointer;
  &[data-hovered] {
    border-color: ${({ theme }) => theme.colour.rule};
  }
`;
