import type { Plan, Schemas } from '../api/client';
import type { Beat } from '../audio/clicks';
import type { Hearing } from '../audio/hearing';
import type { SessionLine, SessionTold } from '../audio/line';

type Part = Schemas['SessionPart'];
export type Stretch = Schemas['StretchOut'];

/** Where a session is, second by second: what the server told of it, on the ear's clock. */
export class Going {
  told = $state.raw<SessionTold | null>(null);
  plan = $state.raw<Plan | null>(null);
  /** The sample that is heard now. */
  sample = $state(0);

  private rate = 48_000;
  private stops: (() => void)[] = [];

  get now(): Part | null {
    return this.told?.now ?? null;
  }

  /** What goes on now. */
  get stretch(): Stretch | null {
    const stretches = this.now?.stretches ?? [];
    return (
      stretches.find(({ end }) => end === null || this.sample < end) ?? stretches.at(-1) ?? null
    );
  }

  /** The sample from which it can be played. */
  get readyFrom(): number | undefined {
    return this.now?.stretches.find(({ phase }) => phase === 'ready')?.start;
  }

  /** Seconds until what goes on now is over; null where that is open. */
  get leftS(): number | null {
    const end = this.stretch?.end;
    return end === null || end === undefined ? null : Math.max(0, (end - this.sample) / this.rate);
  }

  /** The beat that sounded last, while time is given. */
  get beat(): Beat | null {
    const beats = this.now?.beats ?? [];
    const last = beats.findLast(({ sample, click }) => sample <= this.sample && click !== 'part');
    return last && this.sample - last.sample < 2 * this.rate ? last : null;
  }

  /** The step of a paced breath that it is time for, and how far it has come (0 to 1). */
  get breath(): (Schemas['BreathStep'] & { share: number }) | null {
    const stretch = this.stretch;
    if (stretch?.phase !== 'breathe') return null;
    let at = (this.sample - stretch.start) / this.rate;
    for (const step of this.now?.breathing ?? []) {
      if (at < step.seconds) return { ...step, share: Math.max(0, at / step.seconds) };
      at -= step.seconds;
    }
    return null;
  }

  /** Takes what the server told, and puts what sounds on the clock. */
  follow(told: SessionTold, line: SessionLine, ear: Hearing): void {
    this.rate = ear.sampleRate;
    this.told = told;
    this.plan = told.plan ?? this.plan;
    this.hush();
    const { beats, hear_hz, stretches } = told.now;
    const onClock = (sample: number) => line.onClock(sample);
    if (beats.length) {
      const clicks = beats.map(({ sample, click }) => ({ sample: onClock(sample), click }));
      this.stops.push(ear.click(clicks));
    }
    for (const { phase, start, end } of stretches) {
      if (phase === 'hear' && hear_hz && end !== null) {
        this.stops.push(ear.sound(hear_hz, onClock(start), onClock(end)));
      }
    }
  }

  /** Stops what was to sound. */
  hush(): void {
    for (const stop of this.stops) stop();
    this.stops = [];
  }

  clear(): void {
    this.hush();
    this.told = null;
    this.sample = 0;
  }
}
