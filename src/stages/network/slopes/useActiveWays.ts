import { create } from 'zustand';
import { plainActiveWay, type ActiveWay, type ActiveWays } from '@/core/filters/activeFilters';

interface ActiveSettings {
  /** By project; kept while the page lives. */
  readonly byProject: ReadonlyMap<string, ActiveWays>;
  readonly set: (projectId: string, settings: ActiveWays) => void;
}

const useActiveSettings = create<ActiveSettings>()((set) => ({
  byProject: new Map(),
  set: (projectId, settings) =>
    set(({ byProject }) => ({ byProject: new Map([...byProject, [projectId, settings]]) })),
}));

const nothing: ActiveWays = new Map();

/** Gains, delays and polarities of a project’s preview as active filters. */
export function useActiveWays(projectId: string) {
  const settings = useActiveSettings(({ byProject }) => byProject.get(projectId) ?? nothing);
  const set = useActiveSettings((state) => state.set);
  return {
    settings,
    setAll: (next: ActiveWays) => set(projectId, next),
    setOne: (wayId: string, change: Partial<ActiveWay>) =>
      set(
        projectId,
        new Map([...settings, [wayId, { ...plainActiveWay, ...settings.get(wayId), ...change }]]),
      ),
  };
}
