import type { Imported } from '@/core/formats/importMeasurement';

/** Files that were read, before anybody decided about them. */
export interface ReadFiles {
  readonly imported: readonly Imported[];
  /** Folder and name of each file, by the id of its measurement. */
  readonly paths: ReadonlyMap<string, string>;
}

/** So many at once, or a question about one of them, and they are shown together first. */
const manyFiles = 3;

export const wantsProposal = ({ imported }: ReadFiles): boolean =>
  imported.length >= manyFiles || imported.some(({ withPhase }) => withPhase !== null);
