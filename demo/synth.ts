/** A deterministic random number, −1 to 1. */
export function randomFrom(seed: number): () => number {
  let state = seed >>> 0 || 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    state >>>= 0;
    return state / 2147483648 - 1;
  };
}

/** A two-pole band-pass whose centre may change from sample to sample. */
class BandPass {
  private low = 0;
  private band = 0;
  next(x: number, hz: number, rate: number, resonance: number): number {
    const f = 2 * Math.sin((Math.PI * Math.min(hz, rate / 6)) / rate);
    this.low += f * this.band;
    this.band += f * (x - this.low - this.band / resonance);
    return this.band;
  }
}

/** Wind around a hut: noise through wandering resonances, gusts, a little different on each side. */
export function wind(seconds: number, rate: number, seed: number): Float32Array[] {
  return [0, 1].map((side) => {
    const random = randomFrom(seed + side * 77);
    const filters = [new BandPass(), new BandPass(), new BandPass()];
    let hiss = 0;
    return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
      const t = i / rate;
      const gust = 0.55 + 0.3 * Math.sin(t * 0.9 + side * 0.6) + 0.15 * Math.sin(t * 2.3 + 1 + side);
      const white = random();
      hiss += 0.3 * (white - hiss);
      const howl = filters[0]!.next(white, 320 + 160 * Math.sin(t * 0.7 + side), rate, 9);
      const moan = filters[1]!.next(white, 140 + 40 * Math.sin(t * 0.43), rate, 5);
      const whistle = filters[2]!.next(white, 900 + 250 * Math.sin(t * 1.1 + 2 * side), rate, 18);
      return gust * (0.4 * moan + 0.25 * howl + 0.05 * gust * whistle) + 0.012 * hiss;
    });
  });
}

/** The room with the generator behind the wall: hum with harmonics, a slow beat, and room noise. */
export function generatorRoom(seconds: number, rate: number, seed: number): Float32Array[] {
  return [0, 1].map((side) => {
    const random = randomFrom(seed + side * 31);
    let brown = 0;
    return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
      const t = i / rate;
      let hum = 0;
      for (let h = 1; h <= 6; h++) hum += Math.sin(2 * Math.PI * 49.6 * h * t + side * 0.3 * h) / (h * h);
      brown += 0.04 * (random() - brown);
      return hum * (0.3 + 0.03 * Math.sin(2 * Math.PI * 1.7 * t)) + 0.5 * brown + 0.004 * random();
    });
  });
}

const CHORDS = [
  [110, 164.81, 220, 261.63],
  [98, 146.83, 196, 246.94],
  [87.31, 130.81, 174.61, 220],
  [82.41, 123.47, 164.81, 246.94],
];

/** A music bed of slow chords and plucked notes, driven hard into a limiter that knows only samples. */
export function musicBed(seconds: number, rate: number): Float32Array[] {
  const frames = Math.round(seconds * rate);
  return [0, 1].map((side) => {
    const random = randomFrom(901 + side);
    const out = new Float32Array(frames);
    const bar = 4.5;
    for (let i = 0; i < frames; i++) {
      const t = i / rate;
      const chord = CHORDS[Math.floor(t / bar) % CHORDS.length]!;
      const within = (t % bar) / bar;
      let pad = 0;
      chord.forEach((hz, n) => {
        const detune = 1 + (side ? 0.0016 : -0.0016) * (n + 1);
        for (let h = 1; h <= 7; h++) pad += Math.sin(2 * Math.PI * hz * h * detune * t + n) / h;
      });
      const step = Math.floor(t * 4);
      const pluckHz = chord[(step * 7) % 4]! * (step % 3 === 0 ? 4 : 2);
      const decay = Math.exp(-((t * 4) % 1) * 5);
      const pluck = Math.sign(Math.sin(2 * Math.PI * pluckHz * t)) * decay;
      const beat = (t * 1.3333) % 1;
      const drum =
        Math.sin(2 * Math.PI * 62 * beat * (1 - 0.25 * beat)) * Math.exp(-beat * 16) +
        random() * Math.exp(-beat * 130) * 0.5;
      out[i] = 0.16 * pad * Math.sin(Math.PI * within) ** 0.4 + 0.3 * pluck + 0.9 * drum;
    }
    const fade = rate * 1.2;
    for (let i = 0; i < frames; i++) {
      const edge = Math.min(1, i / (rate * 0.05), (frames - i) / fade);
      // Driven and cut off at full scale: sample peaks just fit, what lies between the samples does not.
      out[i] = Math.max(-0.999, Math.min(0.999, out[i]! * 1.3)) * edge;
    }
    return out;
  });
}

/** A frost alarm: two tones in turn, three times. */
export function alarm(rate: number): Float32Array {
  const frames = Math.round(3.6 * rate);
  return Float32Array.from({ length: frames }, (_, i) => {
    const t = i / rate;
    const on = t % 1.2 < 0.9 ? 1 : 0;
    const hz = t % 0.3 < 0.15 ? 1480 : 1110;
    const edge = Math.min(1, (t % 0.15) / 0.004, (0.15 - (t % 0.15)) / 0.004);
    return on * edge * (Math.sin(2 * Math.PI * hz * t) + 0.4 * Math.sin(4 * Math.PI * hz * t));
  });
}

/** One man's laugh: bursts of a voiced sound through throat resonances, falling in pitch, close to the microphone. */
export function laugh(rate: number): Float32Array {
  const random = randomFrom(4242);
  const starts = [0, 0.24, 0.46, 0.67, 0.88, 1.1, 1.34, 1.62, 1.95];
  const formants = [new BandPass(), new BandPass(), new BandPass()];
  let phase = 0;
  return Float32Array.from({ length: Math.round(2.5 * rate) }, (_, i) => {
    const t = i / rate;
    const n = starts.findLastIndex((start) => start <= t);
    const age = t - starts[n]!;
    const level = Math.exp(-age * 13) * Math.min(1, age / 0.012) * (1.15 - n * 0.09);
    phase += (176 - n * 6 - age * 90) / rate;
    const glottis = 1 - 2 * (phase % 1);
    const excitation = glottis * 0.9 + random() * 0.25;
    const voice =
      formants[0]!.next(excitation, 720, rate, 8) +
      0.7 * formants[1]!.next(excitation, 1180, rate, 10) +
      0.35 * formants[2]!.next(excitation, 2500, rate, 12);
    return voice * level;
  });
}
