import type { ImpedanceRun, RigFile, RigSetup } from '@/core/rig/rig';
import type { RigService } from './rig.worker';
import { startService } from './startService';

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
  const { ask, end } = startService<RigService>(
    new Worker(new URL('./rig.worker.ts', import.meta.url), { type: 'module' }),
    'The practice rig',
  );
  const stopped = new Promise<never>((_, reject) => {
    signal.addEventListener('abort', () => reject(new DOMException('stopped', 'AbortError')));
  });
  try {
    const files: RigFile[] = await Promise.race([
      ask(async (service) =>
        run.kind === 'sweep'
          ? await service.rigRecording(setup)
          : [await service.rigImpedance(setup, run)],
      ),
      stopped,
    ]);
    return files.map(({ name, bytes }) => new File([bytes as BlobPart], name));
  } finally {
    end();
  }
}
