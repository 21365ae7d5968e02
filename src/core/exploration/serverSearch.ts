import { type FoundNetwork } from './found';
import type { SearchLimits } from '@/core/fitting/limits';

/** State of a search that the server carries on. */
export type SearchState = 'running' | 'done' | 'stopped' | 'failed';

/** A search that the server carries on, as the page sees it. */
export interface ServerSearch {
  readonly id: string;
  readonly state: SearchState;
  readonly limits: SearchLimits;
  /** What is going on, in words. */
  readonly stageName: string;
  /** Networks of the present stage that were tried, and how many there are. */
  readonly stageDone: number;
  readonly stageCount: number;
  readonly tried: number;
  /** The best trades so far; null when the asker has them already. */
  readonly networks: readonly FoundNetwork[] | null;
  /** Changes whenever the networks do. */
  readonly networksVersion: string;
  /** Why it failed. */
  readonly trouble: string | null;
  /** Whether it failed over some networks and can go on without them. */
  readonly canGoOn: boolean;
  /** ISO 8601. */
  readonly createdAt: string;
}

/** Networks change when a stage is over and when the search ends. */
export const networksVersion = ({
  stage,
  state,
}: {
  readonly stage: number;
  readonly state: SearchState;
}): string => `${stage}-${state}`;
