import { answer, api, problemWords } from '../api/client';
import { known } from '../api/fields.svelte';
import { Room } from '../audio/room';
import { Taps, usualPulse, type Pulse, type PulseBeat } from './pulse';

const KEPT = 'orexis-metronome';
const BARS_AT_ONCE = 8;
const AHEAD_S = 4;
const BEGINS_IN_S = 0.15;
const TICK_MS = 25;

/** Whoever listens to the player meanwhile: their room, and what they are told of the time that is
 * given: the pulse whose first bar falls on a sample of the room's clock, or none from there on. */
interface Listener {
  room: Room;
  told: (pulse: Pulse | null, sample: number) => void;
}

/** The metronome by itself. */
class Metronome {
  running = $state(false);
  /** The beat that sounded last. */
  beat = $state.raw<PulseBeat | null>(null);
  trouble = $state('');
  /** Where an exercise gives the time. */
  barred = $state(false);

  private set = $state.raw<Pulse | null>(null);
  private readonly taps = new Taps();
  private room: Room | null = null;
  private own: Room | null = null;
  private listener: Listener | null = null;
  /** The sample of the room's clock that the first bar begins on. */
  private origin = 0;
  private nextBar = 0;
  private beats: PulseBeat[] = [];
  private stops: (() => void)[] = [];
  private timer: ReturnType<typeof setInterval> | undefined;
  private fetching = false;
  /** Counts beginnings: what was fetched for an earlier one is of no use. */
  private turn = 0;

  get pulse(): Pulse {
    return this.set ?? kept();
  }

  toggle(): void {
    if (this.running) this.stop();
    else void this.start();
  }

  async start(): Promise<void> {
    if (this.running || this.barred) return;
    this.running = true;
    this.own ??= this.listener ? null : await Room.open();
    this.begin(-1, BEGINS_IN_S);
  }

  stop(): void {
    this.hush();
    if (this.running) this.listener?.told(null, this.listener.room.now);
    this.running = false;
    void this.own?.close();
    this.own = this.room = null;
  }

  /** Sets some of it; while it goes, from the next beat on. */
  change(some: Partial<Pulse>): void {
    const pulse = { ...this.pulse, ...some };
    const tempo = known.fields.metronome.bpm;
    pulse.bpm = Math.min(Math.max(pulse.bpm, tempo?.least ?? 0), tempo?.most ?? Infinity);
    this.set = pulse;
    localStorage.setItem(KEPT, JSON.stringify(pulse));
    if (this.running) this.begin(0, this.untilNextBeatS());
  }

  /** So many beats a minute faster. */
  faster(by: number): void {
    this.change({ bpm: this.pulse.bpm + by });
  }

  tap(): void {
    const bpm = this.taps.tap(performance.now());
    if (bpm !== null) this.change({ bpm });
  }

  /** Gives time on the clock of whoever listens from now on; null: on its own. */
  listenedToBy(listener: Listener | null): void {
    const goesOn = this.running;
    this.stop();
    this.listener = listener;
    if (goesOn) void this.start();
  }

  private begin(bar: number, inS: number): void {
    this.hush();
    const room = (this.room = this.listener?.room ?? this.own);
    if (!room) return;
    const { pulse } = this;
    const turn = ++this.turn;
    const starts = room.now + Math.round(inS * room.sampleRate);
    this.nextBar = bar;
    this.timer = setInterval(() => this.tick(turn), TICK_MS);
    void this.fetch(turn).then(() => {
      const [first] = this.beats;
      if (turn !== this.turn || !first) return;
      // The first that sounds is counted in; the first bar begins after it.
      this.origin = Math.max(starts, room.now) - Math.round(first.at_s * room.sampleRate);
      this.click(this.beats);
      this.listener?.told(pulse, this.origin);
    });
  }

  private async fetch(turn: number): Promise<PulseBeat[]> {
    this.fetching = true;
    try {
      const body = { pulse: this.pulse, first_bar: this.nextBar, bars: BARS_AT_ONCE };
      const beats = await answer(api.POST('/api/metronome/beats', { body }));
      if (turn !== this.turn) return [];
      this.nextBar += BARS_AT_ONCE;
      this.beats = [...this.beats, ...beats];
      this.trouble = '';
      return beats;
    } catch (error) {
      if (turn === this.turn) {
        this.stop();
        this.trouble = problemWords(error);
      }
      return [];
    } finally {
      this.fetching = false;
    }
  }

  private tick(turn: number): void {
    const { room } = this;
    if (!room || !this.beats.length) return;
    const nowS = (room.now - this.origin) / room.sampleRate;
    const last = this.beats.findLastIndex(({ at_s }) => at_s <= nowS);
    const sounded = this.beats.slice(0, last + 1).findLast(({ click }) => click !== 'part');
    if (sounded && sounded !== this.beat) this.beat = sounded;
    const ends = this.beats.at(-1)?.at_s ?? 0;
    if (ends - nowS < AHEAD_S && !this.fetching) {
      void this.fetch(turn).then((beats) => this.click(beats));
    }
    if (last > 200) this.beats = this.beats.slice(last - 50);
  }

  private click(beats: PulseBeat[]): void {
    const { room } = this;
    if (!room) return;
    const heard = beats.filter(({ silent }) => !silent);
    this.stops.push(
      room.click(
        heard.map(({ at_s, click }) => ({
          sample: this.origin + Math.round(at_s * room.sampleRate),
          click,
        })),
      ),
    );
    this.stops = this.stops.slice(-4);
  }

  private untilNextBeatS(): number {
    const { room } = this;
    if (!room) return BEGINS_IN_S;
    const nowS = (room.now - this.origin) / room.sampleRate;
    const next = this.beats.find(({ at_s, click }) => at_s > nowS && click !== 'part');
    return Math.max(next ? next.at_s - nowS : 0, BEGINS_IN_S / 3);
  }

  private hush(): void {
    clearInterval(this.timer);
    this.turn++;
    for (const stop of this.stops) stop();
    this.stops = [];
    this.beats = [];
    this.beat = null;
  }
}

/** What it was set to last in this browser. */
function kept(): Pulse {
  const usual = usualPulse(known.fields);
  try {
    return { ...usual, ...(JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Partial<Pulse>) };
  } catch {
    return usual;
  }
}

export const metronome = new Metronome();
