/** A soft brass-like tone of one pitch, to hear where a note should be. */

const LEVEL = 0.14;
const FADE_S = 0.06;
/** Strength of each harmonic, the fundamental first. */
const HARMONICS = [0, 0.7, 1, 0.75, 0.5, 0.32, 0.2, 0.12, 0.07, 0.04];

/** The tone, silent and not begun yet. */
export function soft(context: BaseAudioContext, hz: number) {
  const wave = context.createPeriodicWave(
    new Float32Array(HARMONICS.length),
    new Float32Array(HARMONICS),
  );
  const oscillator = new OscillatorNode(context, { frequency: hz, periodicWave: wave });
  const gain = new GainNode(context, { gain: 0 });
  oscillator.connect(gain);
  return { oscillator, gain };
}
soft.level = LEVEL;
soft.fadeS = FADE_S;

export class Tone {
  private context: AudioContext | null = null;
  private sounding: { oscillator: OscillatorNode; gain: GainNode } | null = null;

  /** Sounds a pitch until it is stopped or another is asked for. */
  play(hz: number): void {
    this.context ??= new AudioContext();
    const context = this.context;
    void context.resume();
    if (this.sounding) {
      this.sounding.oscillator.frequency.setTargetAtTime(hz, context.currentTime, 0.02);
      return;
    }
    const { oscillator, gain } = soft(context, hz);
    gain.gain.setTargetAtTime(LEVEL, context.currentTime, FADE_S / 3);
    gain.connect(context.destination);
    oscillator.start();
    this.sounding = { oscillator, gain };
  }

  stop(): void {
    if (!this.sounding || !this.context) return;
    const { oscillator, gain } = this.sounding;
    gain.gain.setTargetAtTime(0, this.context.currentTime, FADE_S / 3);
    oscillator.stop(this.context.currentTime + 2 * FADE_S);
    this.sounding = null;
  }

  close(): void {
    this.stop();
    void this.context?.close();
    this.context = null;
  }
}
