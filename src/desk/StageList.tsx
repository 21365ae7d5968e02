'use client';
import Link from 'next/link';
import styled from 'styled-components';
import { useDesk, useDeskState } from './DeskContext';
import { progress, stages, type Stage } from './stages';

/** The stages down the left side, each with a mark of how much of it is there. */
export function StageList({ current }: { readonly current: string }) {
  return (
    <Nav aria-label="Stages">
      <ol>
        {stages.map((stage) => (
          <StageRow key={stage.id} stage={stage} isCurrent={stage.id === current} />
        ))}
      </ol>
    </Nav>
  );
}

function StageRow({
  stage: { id, name, key, question, isBuilt },
  isCurrent,
}: {
  readonly stage: Stage;
  readonly isCurrent: boolean;
}) {
  const { projectId } = useDesk();
  const share = useDeskState((state) => progress(id, state.design));
  const content = (
    <>
      <Filled share={share} />
      <span>{name}</span>
      <kbd>{key}</kbd>
    </>
  );
  return (
    <li>
      {isBuilt ? (
        <Link
          href={`/p/${projectId}/${id}`}
          prefetch={false}
          title={question}
          aria-current={isCurrent ? 'page' : undefined}
        >
          {content}
          <Hidden>{` ${Math.round(share * 100)} % there`}</Hidden>
        </Link>
      ) : (
        <div title={question}>
          {content}
          <Hidden>{` ${question}`}</Hidden>
        </div>
      )}
    </li>
  );
}

/** A small disc, filled clockwise as far as the stage has come. */
function Filled({ share }: { readonly share: number }) {
  const turn = 2 * Math.PI * 3;
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden>
      <circle cx="7" cy="7" r="6" fill="none" stroke="currentColor" />
      <circle
        cx="7"
        cy="7"
        r="3"
        fill="none"
        stroke="currentColor"
        strokeWidth="6"
        strokeDasharray={`${turn * share} ${turn}`}
        transform="rotate(-90 7 7)"
      />
    </svg>
  );
}

const Hidden = styled.span`
  position: absolute;
  clip-path: inset(50%);
  width: 1px;
  height: 1px;
  overflow: hidden;
`;

const Nav = styled.nav`
  border-right: 1px solid ${({ theme }) => theme.colour.rule};
  padding-top: 0.6rem;
  overflow-y: auto;
  a,
  div {
    display: grid;
    grid-template-columns: 14px 1fr auto;
    align-items: center;
    column-gap: 0.6rem;
    padding: 0.42rem 0.8rem;
    color: inherit;
    text-decoration: none;
    border-left: 3px solid transparent;
    svg {
      color: ${({ theme }) => theme.colour.accent};
    }
  }
  a:hover {
    background: ${({ theme }) => theme.colour.sheet};
  }
  a[aria-current] {
    background: ${({ theme }) => theme.colour.accentWash};
    border-left-color: ${({ theme }) => theme.colour.accent};
    font-weight: 650;
  }
  div {
    color: ${({ theme }) => theme.colour.quiet};
    svg {
      color: ${({ theme }) => theme.colour.quiet};
    }
  }
`;
