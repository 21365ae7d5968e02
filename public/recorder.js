/* global AudioWorkletProcessor, registerProcessor, currentFrame */
// Audio worklet: hands every block of the input to the page, channel by channel, with the frame at which it began. Plain
// JavaScript, because the browser's audio thread loads it by its address.
class Recorder extends AudioWorkletProcessor {
  process([input]) {
    if (input.length > 0)
      this.port.postMessage({ frame: currentFrame, channels: input.map((one) => one.slice()) });
    return true;
  }
}
registerProcessor('fair-recorder', Recorder);
