import {
  answer,
  api,
  asSet,
  problemOf,
  SERVER_GONE,
  type JudgedTake,
  type Field,
  type Mark,
  type Plan,
  type Player,
  type Problem,
} from '../api/client';
import { Ear, EarError, type EarTrouble, type Input } from '../audio/ear';
import { Line, type LineState } from '../audio/line';
import { oneNote, turned, type Exercise } from './exercise';
import { keepSettings, settingsOf, type Source } from './settings';
import { StandInSounds, usualSkill } from './standin';
import { Tone } from '../audio/tone';
import { frameAt, placed, RibbonFrames } from '../ribbon/frames';
import type { Stretch } from '../ribbon/shapes';
import { turnRound } from '../takes/overrule';
import { record } from '../takes/record.svelte';

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
  /** The step of the score that the sounding try has reached. */
  reached = $state<number | null>(null);
  /** How far one is with the repetitions, in words. */
  repeated = $state('');
  /** Every repetition has passed. */
  done = $state(false);
  /** Why what was last asked for cannot be. */
  refused = $state('');
  frames = new RibbonFrames();

  private asked: Exercise | null = null;
  private ear: Ear | null = null;
  private session: Line | null = null;
  private metered = 0;
  /** What was last asked for is on the Stand, or why not is known. */
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

  /** The note to play: the one that has been reached, or the first. */
  get note(): Plan['sheet']['notes'][number] | undefined {
    const notes = this.plan?.sheet.notes ?? [];
    return notes.find(({ step }) => step === this.reached) ?? notes[0];
  }

  /** Puts the exercise last asked for on the Stand; at first that of last time. */
  load(): Promise<void> {
    this.ready = this.fetchPlan();
    return this.ready;
  }

  private async fetchPlan(): Promise<void> {
    const asked = (this.asked ??= settingsOf(this.player.id).exercise ?? oneNote());
    try {
      const plan = await this.planOf(asked);
      // A later key press has asked for something else already.
      if (asked !== this.asked) return;
      this.plan = plan;
      this.problem = null;
      this.refused = '';
    } catch (error) {
      if (asked !== this.asked) return;
      const problem = problemOf(error);
      if (problem !== SERVER_GONE && this.plan) {
        // What is there stays.
        this.refused = problem.detail;
        this.asked = exerciseOf(this.plan);
        return;
      }
      const first = oneNote();
      const isFirst = asked.family === first.family && !Object.keys(asked.values).length;
      if (problem !== SERVER_GONE && !isFirst) {
        // What was kept for another horn is not on offer any more.
        this.asked = first;
        await this.fetchPlan();
        return;
      }
      this.problem = problem;
      return;
    }
    this.keepSettings();
    this.soundDrone();
    if (this.listening) this.beginSession();
    else this.clear();
    void this.standInSound().catch(() => undefined);
  }

  private planOf({ family, values }: Exercise): Promise<Plan> {
    return answer(
      api.GET('/api/players/{player_id}/book/{family}/stand', {
        params: { path: { player_id: this.player.id, family }, query: { set: asSet(values) } },
      }),
    );
  }

  /** Puts another exercise on, as it is usual. */
  async put(exercise: Exercise): Promise<void> {
    if (this.playing) return;
    this.asked = exercise;
    await this.load();
  }

  /** Sets a field of the exercise one step up or down. */
  async turn(field: Field | null | undefined, way: 1 | -1): Promise<void> {
    if (!this.plan || !field || this.playing) return;
    const { family, values } = this.asked ?? exerciseOf(this.plan);
    const whole = { ...this.plan.values, ...values };
    const next = turned(field, whole[field.key] ?? '', way);
    if (next === null) return;
    this.asked = { family, values: { ...whole, [field.key]: next } };
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

  /** Lets the stand-in player play it as badly as it is set to. */
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
    this.soundDrone();
    if (this.listening) this.beginSession();
  }

  private soundDrone(): void {
    const hz = this.plan?.drone_hz;
    if (this.drone && hz) this.tone.play(hz);
    else this.tone.stop();
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
      family: plan.family,
      values: plan.values,
      source: this.source,
      sample_rate: ear.sampleRate,
      // The stand-in's sound does not come through the room.
      drone_hz: this.drone && this.source === 'microphone' ? plan.drone_hz : null,
    };
    const session: Line = new Line(hello, {
      frames: ({ first, pitch_cents, level_db, harmonicity_db }) => {
        if (session === this.session) this.frames.put(first, pitch_cents, level_db, harmonicity_db);
      },
      playingSince: (frame) => {
        if (session === this.session) this.follow(frame);
      },
      marks: (first, marks, step) => {
        if (session === this.session) this.hear(first, marks, step);
      },
      repeated: (words, done) => {
        if (session !== this.session) return;
        this.repeated = words;
        this.done = done;
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
      this.reached = null;
      this.tries = [...this.tries, { from: playingSince, to: null, heard: [], take: null }].slice(
        -KEEP_TRIES,
      );
    } else if (last) {
      const to = this.frames.lastVoiced(last.from, this.frames.end);
      this.tries = [...this.tries.slice(0, -1), { ...last, to }];
    }
  }

  private hear(first: number, marks: Mark[], step: number | null): void {
    if (step !== null) this.reached = step;
    const last = this.tries.at(-1);
    if (!last || last.to !== null) return;
    const before = last.heard.filter((mark) => frameAt(mark.at_s) < first);
    this.tries = [...this.tries.slice(0, -1), { ...last, heard: [...before, ...marks] }];
  }

  private showTake(take: JudgedTake): void {
    this.take = take;
    if (!this.playing) this.reached = null;
    this.tries = this.tries.map((one) =>
      Math.abs(one.from - take.first_frame - frameAt(take.sounds_from_s)) <= SAME_TRY_FRAMES ||
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
    this.reached = null;
    this.repeated = '';
    this.done = false;
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
    if (!this.plan) throw new Error('There is nothing on the Stand.');
    return this.sounds.fetch(this.player.id, exerciseOf(this.plan), this.skill);
  }

  private keepSettings(): void {
    const exercise = this.plan ? exerciseOf(this.plan) : undefined;
    keepSettings(this.player.id, { source: this.source, exercise });
  }
}

function exerciseOf({ family, values }: Plan): Exercise {
  return { family, values };
}
