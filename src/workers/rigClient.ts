import * as comlink from 'comlink';
import type { ImpedanceRun, RigFile, RigSetup } from '@/core/rig/rig';
import type { RigService } from './rig.worker';

/** What the rig is asked to measure. */
export type RigRun = { readonly kind: 'sweep' } | ImpedanceRun;

/**
 * Lets the practice rig measure, in a worker of its own that ends with it.
 *
 * @returns the files that an outside program would have written
 */
export async function measureOnRig(
  setup: RigSetup,
  run: RigRun,
  signal: AbortSignal,
): Promise<File[]> {
  const worker = new Worker(new URL('./rig.worker.ts', import.meta.url), { type: 'module' });
  const service = comlink.wrap<RigService>(worker);
  const stopped = new Promise<never>((_, reject) => {
    signal.addEventListener('abort', () => reject(new DOMException('stopped', 'AbortError')));
    worker.onerror = () => reject(new Error('The practice rig could not be started.'));
  });
  try {
    const files: RigFile[] = await Promise.race([
      run.kind === 'sweep'
        ? service.rigRecording(setup)
        : service.rigImpedance(setup, run).then((file) => [file]),
      stopped,
    ]);
    return files.map(({ name, bytes }) => new File([bytes as BlobPart], name));
  } finally {
    worker.terminate();
  }
}
