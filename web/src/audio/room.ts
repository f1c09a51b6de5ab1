/** Sounds to the room, on the clock of an audio context. */
import { schedule, type Beat } from './clicks';
import { soft } from './tone';

export class Room {
  constructor(private readonly context: AudioContext) {}

  /** A room with a clock of its own. */
  static async open(): Promise<Room> {
    const context = new AudioContext({ latencyHint: 'interactive' });
    await context.resume();
    return new Room(context);
  }

  get sampleRate(): number {
    return this.context.sampleRate;
  }

  /** The sample of its clock that is next. */
  get now(): number {
    return Math.round(this.context.currentTime * this.context.sampleRate);
  }

  /** Clicks on samples of its clock; returns what stops them. */
  click(beats: Pick<Beat, 'sample' | 'click'>[]): () => void {
    return schedule(this.context, beats, (sample) => sample / this.sampleRate);
  }

  /** Sounds a pitch between two samples of its clock; returns what stops it. */
  sound(hz: number, from: number, to: number): () => void {
    const { oscillator, gain } = soft(this.context, hz);
    gain.connect(this.context.destination);
    const ends = to / this.sampleRate;
    const starts = Math.max(from / this.sampleRate, this.context.currentTime);
    gain.gain.setTargetAtTime(soft.level, starts, soft.fadeS / 3);
    gain.gain.setTargetAtTime(0, ends - 2 * soft.fadeS, soft.fadeS / 3);
    oscillator.start(starts);
    oscillator.stop(ends);
    return () => oscillator.disconnect();
  }

  async close(): Promise<void> {
    await this.context.close();
  }
}
