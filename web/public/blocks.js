// Hands on what a microphone delivers, in blocks of about a tenth of a second, each channel for itself.
class Blocks extends AudioWorkletProcessor {
  constructor() {
    super()
    this.full = 4096
    this.held = []
    this.n = 0
  }
  process([input]) {
    if (!input || input.length === 0) return true
    const channels = input.slice(0, 2)
    if (this.held.length !== channels.length) {
      this.held = channels.map(() => new Float32Array(this.full))
      this.n = 0
    }
    channels.forEach((c, k) => this.held[k].set(c, this.n))
    this.n += channels[0].length
    if (this.n >= this.full) {
      this.port.postMessage({ at: currentTime, channels: this.held.map((h) => h.slice()) })
      this.n = 0
    }
    return true
  }
}
registerProcessor('blocks', Blocks)
