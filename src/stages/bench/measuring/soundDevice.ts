import type { Sound } from '@/core/formats/wav';

/** An input of this machine that can record. */
interface SoundInput {
  readonly id: string;
  readonly name: string;
}

/** The browser's sound, opened for measuring: no echo or noise cancelling, no automatic gain. */
export interface SoundDevice {
  readonly sampleRateHz: number;
  readonly channelCount: number;
  readonly inputs: readonly SoundInput[];
  /**
   * Plays a signal on every output channel and records meanwhile, from the moment at which it
   * begins.
   *
   * @param onProgress share that has been recorded, 0 to 1
   * @throws DOMException `AbortError` when stopped; playing stops at once
   * @throws SoundInputGone when the input goes away meanwhile; the device is of no use any more
   */
  playAndRecord(
    signal: Float64Array,
    abort: AbortSignal,
    onProgress: (share: number) => void,
  ): Promise<Sound>;
  close(): void;
}

/** The input was unplugged: what was recorded is not kept. */
export class SoundInputGone extends Error {
  constructor() {
    super(
      'The sound input went away while it recorded: nothing was kept. Plug it in again, open the sound device anew and check the level.',
    );
  }
}

interface Block {
  readonly frame: number;
  readonly channels: readonly Float32Array[];
}

/** Before the signal begins, so that the recorder surely listens. */
const leadSeconds = 0.15;

/**
 * Asks for the microphone and opens the sound device.
 *
 * @param inputId of the input; null for the one that the browser takes
 * @throws Error in words, when there is no device or the user refuses
 */
export async function openSoundDevice(inputId: string | null): Promise<SoundDevice> {
  // Absent on addresses that are neither loopback nor encrypted, whatever its type says.
  const media = navigator.mediaDevices as MediaDevices | undefined;
  if (!media) throw new Error('This browser gives no access to a sound device here.');
  const stream = await media
    .getUserMedia({
      audio: {
        ...(inputId === null ? {} : { deviceId: { exact: inputId } }),
        echoCancellation: false,
        noiseSuppression: false,
        autoGainControl: false,
        channelCount: { ideal: 2 },
      },
    })
    .catch((error: unknown) => {
      throw new Error(inWords(error));
    });
  const context = new AudioContext({ latencyHint: 'playback' });
  const close = () => {
    for (const track of stream.getTracks()) track.stop();
    void context.close();
  };
  try {
    await context.audioWorklet.addModule('/recorder.js');
    await context.resume();
    return deviceOf(stream, context, await media.enumerateDevices(), close);
  } catch (error) {
    // No microphone stays open that nobody uses.
    close();
    throw new Error(inWords(error), { cause: error });
  }
}

function deviceOf(
  stream: MediaStream,
  context: AudioContext,
  devices: readonly MediaDeviceInfo[],
  close: () => void,
): SoundDevice {
  const source = context.createMediaStreamSource(stream);
  const [track] = stream.getAudioTracks();
  const channelCount = Math.min(2, track.getSettings().channelCount ?? 1);
  const recorder = new AudioWorkletNode(context, 'fair-recorder', {
    numberOfOutputs: 0,
    channelCount,
    channelCountMode: 'explicit',
  });
  source.connect(recorder);
  return {
    sampleRateHz: context.sampleRate,
    channelCount,
    inputs: devices
      .filter(({ kind, deviceId }) => kind === 'audioinput' && deviceId !== '')
      .map(({ deviceId, label }, i) => ({ id: deviceId, name: label || `input ${i + 1}` })),
    async playAndRecord(signal, abort, onProgress) {
      const buffer = context.createBuffer(1, signal.length, context.sampleRate);
      buffer.copyToChannel(Float32Array.from(signal), 0);
      const player = new AudioBufferSourceNode(context, { buffer });
      player.connect(context.destination);
      const startFrame = Math.ceil((context.currentTime + leadSeconds) * context.sampleRate);
      const channels = Array.from({ length: channelCount }, () => new Float64Array(signal.length));
      const listening = new AbortController();
      const { signal: whileListening } = listening;
      try {
        await new Promise<void>((resolve, reject) => {
          const stop = () => reject(abort.reason as Error);
          abort.addEventListener('abort', stop, { signal: whileListening });
          // It would go on recording silence.
          const giveUp = () => reject(new SoundInputGone());
          track.addEventListener('ended', giveUp, { signal: whileListening });
          if (track.readyState === 'ended') giveUp();
          recorder.port.onmessage = ({ data }: MessageEvent<Block>) => {
            const at = data.frame - startFrame;
            data.channels.forEach((block, c) => {
              for (let i = Math.max(0, -at); i < block.length && at + i < signal.length; i++)
                channels[c][at + i] = block[i];
            });
            onProgress(Math.max(0, Math.min(1, at / signal.length)));
            if (at >= signal.length) resolve();
          };
          player.start(startFrame / context.sampleRate);
        });
      } finally {
        listening.abort();
        recorder.port.onmessage = null;
        player.stop();
        player.disconnect();
      }
      return { sampleRateHz: context.sampleRate, channels };
    },
    close,
  };
}

function inWords(error: unknown): string {
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError')
    return 'The browser was not allowed to use the microphone. Allow it for this page, then try again.';
  if (name === 'NotFoundError')
    return 'There is no sound input on this machine. Plug one in, or use the practice rig.';
  return `The sound input could not be opened (${String(error)}). Close other programs that use it, then try again.`;
}
