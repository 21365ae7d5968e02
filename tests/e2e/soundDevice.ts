import type { Page } from '@playwright/test';

/**
 * Puts a sound device of known behaviour in the place of the machine's: what the page plays comes
 * back on the first channel 13 ms later through a low pass at 3 kHz and at half the amplitude, and
 * 10 ms later as it was on the second. `unplugSound()` of the page takes it away, `isSoundOpen()`
 * tells whether somebody listens to it.
 */
export async function fakeSoundDevice(page: Page): Promise<void> {
  await page.addInitScript(() => {
    const connect = Reflect.get(AudioNode.prototype, 'connect') as (
      this: AudioNode,
      to: AudioNode,
      ...rest: number[]
    ) => AudioNode;
    let track: MediaStreamTrack | null = null;
    Object.assign(window, {
      unplugSound: () => track!.dispatchEvent(new Event('ended')),
      isSoundOpen: () => track?.readyState === 'live',
    });
    const inputs = new WeakMap<BaseAudioContext, AudioNode>();
    AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode, ...rest: number[]) {
      const input = inputs.get(this.context);
      if (to instanceof AudioDestinationNode && input) connect.call(this, input);
      return connect.call(this, to, ...rest);
    } as never;
    navigator.mediaDevices.getUserMedia = () => {
      const context = new AudioContext();
      const out = new MediaStreamAudioDestinationNode(context, { channelCount: 2 });
      [track] = out.stream.getAudioTracks();
      return Promise.resolve(out.stream);
    };
    AudioContext.prototype.createMediaStreamSource = function (this: AudioContext) {
      const input = this.createGain();
      const way = (...nodes: AudioNode[]) =>
        nodes.reduce((from, to) => connect.call(from, to), input as AudioNode);
      const merger = this.createChannelMerger(2);
      const late = new DelayNode(this, { maxDelayTime: 1, delayTime: 0.013 });
      const lowPass = new BiquadFilterNode(this, { type: 'lowpass', frequency: 3000 });
      connect.call(way(late, lowPass, new GainNode(this, { gain: 0.5 })), merger, 0, 0);
      const loop = new DelayNode(this, { maxDelayTime: 1, delayTime: 0.01 });
      connect.call(way(loop), merger, 0, 1);
      inputs.set(this, input);
      return merger as never;
    };
  });
}
