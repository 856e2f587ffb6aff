// Hands on what the microphone hears, a tenth of a second at a time.
class Recorder extends AudioWorkletProcessor {
  held = [];
  count = 0;
  begun = false;

  process([input]) {
    if (input?.[0]) {
      this.begun = true;
      this.held.push(input[0].slice());
      this.count += input[0].length;
    } else if (this.begun) {
      // Where nothing comes for a moment it is still that moment: what follows is not moved up.
      this.held.push(new Float32Array(128));
      this.count += 128;
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
