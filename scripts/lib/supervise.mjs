// Starts again what ended by itself, with a pause that grows while it keeps ending.
import { say } from './say.mjs';

const pausesMs = [500, 2000, 5000, 15_000, 30_000];
/** What ran for so long is taken to be well again. */
const wellMs = 60_000;

/**
 * Keeps something running.
 *
 * @param name as a sentence begins with it: "The web server"
 * @param start starts it; resolves once it works, rejects when it doesn't
 * @param onEnd is told how to hear that it ended: calls back with the reason
 * @returns what stops looking after it
 */
export function supervise(name, start, onEnd) {
  let isWanted = true;
  let failures = 0;
  let startedAt = Date.now();
  const again = (reason) => {
    if (!isWanted) return;
    if (Date.now() - startedAt > wellMs) failures = 0;
    const pauseMs = pausesMs[Math.min(failures++, pausesMs.length - 1)];
    say(`${name} ended (${reason}). It is started again; nothing saved is lost.`);
    setTimeout(() => void attempt(), pauseMs);
  };
  const attempt = async () => {
    if (!isWanted) return;
    startedAt = Date.now();
    try {
      await start();
      if (!isWanted) return;
      say(`${name} is back.`);
      onEnd(again);
    } catch (error) {
      again(error instanceof Error ? error.message : String(error));
    }
  };
  onEnd(again);
  return () => {
    isWanted = false;
  };
}
