import {
  answer,
  api,
  problemOf,
  SERVER_GONE,
  type JudgedTake,
  type Mark,
  type Plan,
  type Player,
  type Problem,
} from '../api/client';
import { known } from '../api/fields.svelte';
import { Ear, EarError, type EarTrouble, type Input } from '../audio/ear';
import { Line, type LineState, type Opening } from '../audio/line';
import { StandInSounds, usualSkill } from './standin';
import { Tone } from '../audio/tone';
import { frameAt, placed, RibbonFrames } from '../ribbon/frames';
import type { Stretch } from '../ribbon/shapes';
import { turnRound } from '../takes/overrule';
import { record } from '../takes/record.svelte';

export type Source = Opening['source'];

/**
 * One try on the strip: from its first frame to its end, what was heard of it while it sounded,
 * and its take once it is kept.
 */
interface Try {
  from: number;
  to: number | null;
  heard: Mark[];
  take: JudgedTake | null;
}

const KEEP_TRIES = 12;
/** A take's note starts within this of the try it came of. */
const SAME_TRY_FRAMES = 100;
const FASTEST_METER_MS = 50;
const SETTINGS_KEY = 'orexis-stand';

/** What the Stand is doing; the rules and numbers all come from the server. */
export class Stand {
  plan = $state.raw<Plan | null>(null);
  source = $state<Source>('microphone');
  listening = $state(false);
  starting = $state(false);
  standInPlaying = $state(false);
  playing = $state(false);
  tries = $state.raw<Try[]>([]);
  take = $state.raw<JudgedTake | null>(null);
  line = $state<LineState>('connecting');
  problem = $state.raw<Problem | null>(null);
  trouble = $state<EarTrouble | null>(null);
  peak = $state(0);
  inputs = $state.raw<Input[]>([]);
  inputId = $state('');
  skill = $state(usualSkill());
  drone = $state(false);
  frames = new RibbonFrames();

  private asked: { midi?: number; hold_s?: number } | null = null;
  private ear: Ear | null = null;
  private session: Line | null = null;
  private metered = 0;
  /** The note last asked for is on the Stand, or why not is known. */
  private ready: Promise<void> = Promise.resolve();
  private readonly sounds = new StandInSounds();
  private readonly tone = new Tone();

  constructor(readonly player: Player) {
    const kept = settingsOf(player.id);
    this.source = kept.source ?? 'microphone';
    navigator.mediaDevices?.addEventListener('devicechange', this.listInputs);
    addEventListener('pagehide', this.hangUp);
    void this.load();
  }

  /** The tries as stretches to draw; only the last is drawn full. */
  get stretches(): Stretch[] {
    return this.tries.map(({ from, to, heard, take }, i) => ({
      from,
      to,
      label: take ? `try ${i + 1}: ${take.verdict.word}` : `try ${i + 1}`,
      pale: i < this.tries.length - 1,
      marks: placed(take?.marks ?? heard, take?.first_frame),
    }));
  }

  /** Puts the note and hold last asked for on the Stand; at first those of last time. */
  load(): Promise<void> {
    this.ready = this.fetchPlan();
    return this.ready;
  }

  private async fetchPlan(): Promise<void> {
    const asked = (this.asked ??= settingsOf(this.player.id));
    try {
      const plan = await answer(
        api.GET('/api/players/{player_id}/long-tone', {
          params: {
            path: { player_id: this.player.id },
            query: { midi: asked.midi, hold_s: asked.hold_s },
          },
        }),
      );
      // A later key press has asked for something else already.
      if (asked !== this.asked) return;
      this.plan = plan;
      this.problem = null;
    } catch (error) {
      // A note kept for another horn is not on offer any more.
      if (!this.plan && asked.midi !== undefined && problemOf(error) !== SERVER_GONE) {
        this.asked = {};
        await this.fetchPlan();
        return;
      }
      this.problem = problemOf(error);
      return;
    }
    this.keepSettings();
    if (this.drone) this.tone.play(this.plan.drone_hz);
    if (this.listening) this.beginSession();
    else this.clear();
    void this.standInSound().catch(() => undefined);
  }

  async step(semitones: 1 | -1): Promise<void> {
    if (!this.plan || this.playing) return;
    const midi = (this.asked?.midi ?? this.plan.midi) + semitones;
    if (midi < this.plan.lowest_midi || midi > this.plan.highest_midi) return;
    this.asked = { hold_s: this.plan.hold_s, ...this.asked, midi };
    await this.load();
  }

  async holdLonger(seconds: 1 | -1): Promise<void> {
    if (!this.plan || this.playing) return;
    const hold_s = (this.asked?.hold_s ?? this.plan.hold_s) + seconds;
    const bounds = known.fields.stand.hold_s;
    if (hold_s < (bounds?.least ?? 0) || hold_s > (bounds?.most ?? Infinity)) return;
    this.asked = { midi: this.plan.midi, ...this.asked, hold_s };
    await this.load();
  }

  async listen(source: Source = this.source): Promise<void> {
    if (this.starting) return;
    this.starting = true;
    this.source = source;
    this.trouble = null;
    this.problem = null;
    this.keepSettings();
    try {
      await this.ready;
      this.ear ??= await this.openEar();
      if (source === 'microphone') {
        await this.ear.useMicrophone(this.inputId || undefined);
      } else {
        this.ear.useStandIn();
      }
      this.listening = true;
      // What is played from now on counts; the names of the inputs can wait.
      this.beginSession();
      if (source === 'microphone') await this.listInputs();
    } catch (error) {
      await this.stop();
      this.trouble = error instanceof EarError ? error.trouble : 'unusable';
    } finally {
      this.starting = false;
    }
  }

  /** Lets the stand-in player play the note as badly as it is set to. */
  async playStandIn(): Promise<void> {
    if (this.standInPlaying) return;
    if (!this.listening || this.source !== 'stand-in') await this.listen('stand-in');
    if (!this.listening) return;
    this.standInPlaying = true;
    try {
      const sound = await this.standInSound();
      await this.ear?.play(sound);
    } catch (error) {
      this.problem = problemOf(error);
    } finally {
      this.standInPlaying = false;
    }
  }

  /** Sounds a drone to play to, or stops it; what is heard from then on is without it. */
  toggleDrone(): void {
    if (!this.plan || this.playing) return;
    this.drone = !this.drone;
    if (this.drone) this.tone.play(this.plan.drone_hz);
    else this.tone.stop();
    if (this.listening) this.beginSession();
  }

  async stop(): Promise<void> {
    this.hangUp();
    this.listening = false;
    this.playing = false;
    this.peak = 0;
    const ear = this.ear;
    this.ear = null;
    await ear?.close();
  }

  /** Turns the last verdict round, or takes that back. */
  async overrule(): Promise<void> {
    const take = this.take;
    if (!take) return;
    try {
      this.showTake({ ...take, verdict: await turnRound(take) });
    } catch (error) {
      this.problem = problemOf(error);
    }
  }

  async leave(): Promise<void> {
    removeEventListener('pagehide', this.hangUp);
    navigator.mediaDevices?.removeEventListener('devicechange', this.listInputs);
    this.tone.close();
    await this.stop();
  }

  private async openEar(): Promise<Ear> {
    const ear = await Ear.open();
    ear.onchunk = (pcm) => this.session?.push(pcm);
    ear.onlevel = (peak) => this.meter(peak);
    ear.onunplugged = () => {
      void this.stop().then(() => (this.trouble = 'unplugged'));
    };
    return ear;
  }

  private beginSession(): void {
    const { plan, ear } = this;
    if (!plan || !ear) return;
    this.session?.close();
    this.clear();
    this.line = 'connecting';
    const hello = {
      player_id: this.player.id,
      midi: plan.midi,
      hold_s: plan.hold_s,
      source: this.source,
      sample_rate: ear.sampleRate,
      // The stand-in's sound does not come through the room.
      drone_hz: this.drone && this.source === 'microphone' ? plan.drone_hz : null,
    };
    const session: Line = new Line(hello, {
      frames: ({ first, cents, level_db, harmonicity_db }) => {
        if (session === this.session) this.frames.put(first, cents, level_db, harmonicity_db);
      },
      playingSince: (frame) => {
        if (session === this.session) this.follow(frame);
      },
      marks: (first, marks) => {
        if (session === this.session) this.hear(first, marks);
      },
      verdict: (take) => {
        // A try cut off by leaving is kept after the view has gone.
        record.grew();
        if (session === this.session) this.showTake(take);
      },
      state: (state, problem) => {
        if (session !== this.session) return;
        this.line = state;
        this.problem = problem;
        if (state === 'refused') void this.stop();
      },
    });
    this.session = session;
  }

  private follow(playingSince: number | null): void {
    this.playing = playingSince !== null;
    const last = this.tries.at(-1);
    if (playingSince !== null) {
      // After a reconnection the same try is told of again.
      if (last && last.from === playingSince) {
        this.tries = [...this.tries.slice(0, -1), { ...last, to: null }];
        return;
      }
      this.take = null;
      this.tries = [...this.tries, { from: playingSince, to: null, heard: [], take: null }].slice(
        -KEEP_TRIES,
      );
    } else if (last) {
      const to = this.frames.lastVoiced(last.from, this.frames.end);
      this.tries = [...this.tries.slice(0, -1), { ...last, to }];
    }
  }

  private hear(first: number, marks: Mark[]): void {
    const last = this.tries.at(-1);
    if (!last || last.to !== null) return;
    const before = last.heard.filter((mark) => frameAt(mark.at_s) < first);
    this.tries = [...this.tries.slice(0, -1), { ...last, heard: [...before, ...marks] }];
  }

  private showTake(take: JudgedTake): void {
    this.take = take;
    this.tries = this.tries.map((one) =>
      Math.abs(one.from - take.first_frame - frameAt(take.note_start_s)) <= SAME_TRY_FRAMES ||
      one.take?.id === take.id
        ? { ...one, take }
        : one,
    );
  }

  private clear(): void {
    this.frames = new RibbonFrames();
    this.tries = [];
    this.take = null;
    this.playing = false;
  }

  private hangUp = (): void => {
    this.session?.close();
    this.session = null;
  };

  private meter(peak: number): void {
    const now = performance.now();
    this.held = Math.max(peak, this.held);
    if (now - this.metered >= FASTEST_METER_MS) {
      this.peak = this.held;
      this.held = 0;
      this.metered = now;
    }
  }

  private held = 0;

  private listInputs = async (): Promise<void> => {
    this.inputs = (await this.ear?.inputs()) ?? this.inputs;
  };

  private async standInSound(): Promise<ArrayBuffer> {
    if (!this.plan) throw new Error('There is no note on the Stand.');
    return this.sounds.fetch(this.player.id, this.plan.midi, this.skill);
  }

  private keepSettings(): void {
    const kept = { source: this.source, midi: this.plan?.midi, hold_s: this.plan?.hold_s };
    localStorage.setItem(`${SETTINGS_KEY}-${this.player.id}`, JSON.stringify(kept));
  }
}

/** Puts a note on a player's Stand for when they come to it. */
export function putOnStand(playerId: number, midi: number, hold_s?: number): void {
  const kept = { ...settingsOf(playerId), midi, ...(hold_s && { hold_s }) };
  localStorage.setItem(`${SETTINGS_KEY}-${playerId}`, JSON.stringify(kept));
}

function settingsOf(playerId: number): { source?: Source; midi?: number; hold_s?: number } {
  try {
    return JSON.parse(localStorage.getItem(`${SETTINGS_KEY}-${playerId}`) ?? '{}');
  } catch {
    return {};
  }
}
