import { warmFileReader } from '@/workers/filesClient';
import { createPredictorClient } from '@/workers/predictorClient';
import * as api from './api';
import { createOutbox, type Outbox } from '@/desk/saving/outbox';

/** What a desk needs from outside; tests put plain objects in its place. */
export interface DeskWorld {
  readonly api: Pick<
    typeof api,
    | 'fetchProject'
    | 'fetchMeasurement'
    | 'storeMeasurement'
    | 'saveProject'
    | 'createProject'
    | 'fetchState'
    | 'pinState'
    | 'annotateVersion'
    | 'setLateFigures'
  >;
  readonly createOutbox: () => Outbox;
  readonly createPredictor: typeof createPredictorClient;
  /** Messages to other tabs on the same project. */
  readonly createChannel: (
    name: string,
  ) => Pick<BroadcastChannel, 'postMessage' | 'close' | 'onmessage'>;
  readonly warmFileReader: () => void;
}

export const browserWorld: DeskWorld = {
  api,
  createOutbox,
  createPredictor: createPredictorClient,
  createChannel: (name) => new BroadcastChannel(name),
  warmFileReader,
};
