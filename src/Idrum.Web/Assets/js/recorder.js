// Hands on what the microphone hears, a tenth of a second at a time.
class Recorder extends AudioWorkletProcessor {
  held = [];
  count = 0;

  process([input]) {
    if (input?.[0]) {
      this.held.push(input[0].slice());
      this.count += input[0].length;
    }
    if (this.count >= sampleRate / 10) {
      const all = new Float32Array(this.count);
      let at = 0;
      for (const part of this.held) {
        all.set(part, at);
        at += part.length;
      }
      this.port.postMessage(all, [all.buffer]);
      this.held = [];
      this.count = 0;
    }
    return true;
  }
}
registerProcessor("recorder", Recorder);
