/** The stages of the work, in the order in which people go through them. */
export type StageId =
  'brief' | 'bench' | 'box' | 'baffle' | 'network' | 'around' | 'parts' | 'build' | 'proof' | 'log';
