import {
  answer,
  api,
  asSet,
  problemOf,
  SERVER_GONE,
  type JudgedTake,
  type Field,
  type Mark,
  type OpenEar,
  type Plan,
  type Player,
  type Problem,
  type Schemas,
} from '../api/client';
import { Ear, EarError, type EarTrouble } from '../audio/ear';
import type { Hearing, Input } from '../audio/hearing';
import { QuickEar } from '../audio/quick';
import {
  Line,
  type LineEvents,
  type LineState,
  type SessionLine,
  type SessionTold,
} from '../audio/line';
import { awake } from '../audio/awake';
import { oneNote, turned, type Exercise } from './exercise';
import { Going } from './going.svelte';
import { clockSpeed, latencyOf, leaveOpen, live, openOf } from './sessions';
import type { Handed } from './handed';
import type { Open, SessionExercise } from './sessions';
import { keepSettings, settingsOf, type Source } from './settings';
import { StandInSounds, usualSkill } from './standin';
import { StandInTurns } from './turns';
import { FarEar, FarLine } from '../home/far';
import { Tone } from '../audio/tone';
import { Level } from '../microphone/level.svelte';
import { drone } from '../sounding/drone.svelte';
import { metronome } from '../sounding/metronome.svelte';
import { frameAt, placed, RibbonFrames } from '../ribbon/frames';
import type { Stretch } from '../ribbon/shapes';
import { turnRound } from '../takes/overrule';
import { record } from '../takes/record.svelte';

/**
 * One attempt on the strip: from its first frame to its end, what was heard of it while it sounded,
 * and its take once it is kept.
 */
interface Attempt {
  from: number;
  to: number | null;
  heard: Mark[];
  take: JudgedTake | null;
}

type Press = Schemas['Pressing']['press'];

const FRAMES_A_SECOND = 100;
const KEEP_TRIES = 12;
/** So many marks of an attempt are said in words: more could not be read while one plays. */
const MOST_SAID = 3;
/** A take's note starts within this of the attempt it came of. */
const SAME_TRY_FRAMES = 100;
const FASTEST_COUNT_MS = 50;

/** What the Stand is doing; the rules and numbers all come from the server. */
export class Stand {
  plan = $state.raw<Plan | null>(null);
  source = $state<Source>('microphone');
  listening = $state(false);
  starting = $state(false);
  standInPlaying = $state(false);
  playing = $state(false);
  attempts = $state.raw<Attempt[]>([]);
  take = $state.raw<JudgedTake | null>(null);
  line = $state<LineState>('connecting');
  problem = $state.raw<Problem | null>(null);
  /** The server is not ready to listen yet, and how long that still takes. */
  gettingReady = $state.raw<{ leftS: number | null } | null>(null);
  trouble = $state<EarTrouble | null>(null);
  readonly level = new Level();
  inputs = $state.raw<Input[]>([]);
  inputId = $state('');
  skill = $state(usualSkill());
  drone = $state(false);
  /** The step of the score that the sounding attempt has reached. */
  reached = $state<number | null>(null);
  /** Where the session is. */
  readonly going = new Going();
  /** A whole session, where it is one. */
  whole = $state.raw<(Pick<Handed, 'title' | 'kind'> & { exercises: SessionExercise[] }) | null>(
    null,
  );
  /** One that was left and can be gone on with. */
  open = $state.raw<Open | null>(null);
  /** The ear of another device, while that one listens and this one shows it. */
  following = $state.raw<OpenEar | null>(null);
  /** A session of another device's that is not shown here any more. */
  dismissed = $state('');
  /** Why what was last asked for cannot be. */
  refused = $state('');
  frames = new RibbonFrames();

  private asked: Exercise | null = null;
  private ear: Hearing | null = null;
  private session: SessionLine | null = null;
  /** What was last asked for is on the Stand, or why not is known. */
  private ready: Promise<void> = Promise.resolve();
  private readonly sounds = new StandInSounds();
  private readonly turns = new StandInTurns();
  private readonly tone = new Tone();

  constructor(readonly player: Player) {
    const kept = settingsOf(player.id);
    this.source = kept.source ?? 'microphone';
    navigator.mediaDevices?.addEventListener('devicechange', this.listInputs);
    addEventListener('pagehide', this.hangUp);
    void this.load();
    void this.findOpen();
  }

  /** How far one is with the repetitions, in words. */
  get repeated(): string {
    return this.going.now?.open ? this.going.now.place : '';
  }

  /** An exercise by itself has been played as often as it says. */
  get done(): boolean {
    return this.going.now?.done ?? false;
  }

  get sessionId(): string {
    return this.session?.session ?? '';
  }

  get paused(): boolean {
    return this.listening && (this.going.now?.paused ?? false);
  }

  get ended(): boolean {
    return this.listening && this.going.now?.ended !== null && this.going.now !== null;
  }

  /** Looks for a session to go on with; one that this window was in goes on by itself. */
  private async findOpen(): Promise<void> {
    this.open = await openOf(this.player.id).catch(() => null);
    const here = live.get();
    live.clear();
    if (this.open && here === this.open.id) await this.goOnWith(this.open);
  }

  async goOnWith(open: Open): Promise<void> {
    this.whole = {
      title: open.title,
      kind: open.kind,
      exercises: [{ family: 'long-tone', values: {}, why: '' }],
    };
    this.goesOn = true;
    await this.listen(open.source as Source, open);
  }

  /** Ends the session that was left without going on with it. */
  async forget(): Promise<void> {
    const { open } = this;
    this.open = null;
    if (open) await leaveOpen(open.id).catch(() => undefined);
  }

  /** Plays a whole session. */
  async playWhole({ title, kind, exercises }: Handed): Promise<void> {
    await this.forget();
    this.whole = {
      title,
      kind,
      exercises: exercises.map(({ family, values, way, why }) => ({ family, values, way, why })),
    };
    if (this.listening) this.beginSession();
    else await this.listen();
  }

  /** Shows what another device listens to, and takes what is said here to it. */
  follow(ear: OpenEar): void {
    if (this.listening || this.starting) return;
    this.following = ear;
    this.source = 'microphone';
    this.ear = new FarEar(ear.sample_rate);
    this.listening = true;
    this.trouble = null;
    const { title, kind } = ear;
    this.whole = kind === 'task' ? null : { title, kind, exercises: [] };
    this.beginAnew();
    awake.hold();
    this.openLine((events) => new FarLine(ear, events));
  }

  /** Shows it no more. */
  async leaveFollowing(): Promise<void> {
    const ear = this.following;
    if (!ear) return;
    this.dismissed = ear.session;
    await this.leaveWhole();
  }

  /** Listens to it on this device, in place of the other. */
  async listenHere(): Promise<void> {
    const ear = this.following;
    if (!ear) return;
    // What the other device still hears until it gives way is not to be shown again.
    this.dismissed = ear.session;
    await this.stop();
    const { title, kind, session, sample_rate } = ear;
    this.whole =
      kind === 'task'
        ? null
        : { title, kind, exercises: [{ family: 'long-tone', values: {}, why: '' }] };
    this.takesUp = true;
    await this.listen('microphone', { id: session, sample_rate });
  }

  /** Back to one exercise by itself. */
  async leaveWhole(): Promise<void> {
    await this.stop();
    this.whole = null;
    this.clear();
    await this.load();
  }

  press(press: Press): void {
    this.session?.sayWhenReady({ type: 'press', press });
  }

  help(question: string): void {
    this.session?.say({ type: 'help', question });
  }

  /** The attempts as stretches to draw; only the last is drawn full. */
  get stretches(): Stretch[] {
    return this.attempts.map(({ from, to, heard, take }, i) => ({
      from,
      to,
      label: take ? `attempt ${i + 1}: ${take.verdict.word}` : `attempt ${i + 1}`,
      pale: i < this.attempts.length - 1,
      most: MOST_SAID,
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
      if (asked !== this.asked || this.following) return;
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
    this.clear();
    if (this.listening && !this.whole) this.putHere();
    void this.standInSound().catch(() => undefined);
  }

  /** Tells the session which exercise is on the Stand now. */
  private putHere(): void {
    if (!this.plan) return;
    const exercise = { ...exerciseOf(this.plan), why: '' };
    // A session that begins says itself what sounds in the room.
    if (!this.session?.say({ type: 'put', exercise })) this.beginSession();
    else if (this.drone) this.tune();
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
    if (this.playing || this.following) return;
    this.asked = exercise;
    await this.load();
  }

  /** Sets a field of the exercise one step up or down. */
  async turn(field: Field | null | undefined, way: 1 | -1): Promise<void> {
    if (!this.plan || !field || this.playing || this.following) return;
    const { family, values } = this.asked ?? exerciseOf(this.plan);
    const whole = { ...this.plan.values, ...values };
    const next = turned(field, whole[field.key] ?? '', way);
    if (next === null) return;
    this.asked = { family, values: { ...whole, [field.key]: next } };
    await this.load();
  }

  async listen(
    source: Source = this.source,
    goesOnWith?: Pick<Open, 'id' | 'sample_rate'>,
  ): Promise<void> {
    if (this.starting) return;
    this.starting = true;
    this.source = source;
    this.trouble = null;
    this.problem = null;
    this.keepSettings();
    try {
      await this.ready;
      this.ear ??= await this.openEar(goesOnWith?.sample_rate);
      if (source === 'microphone') {
        await this.ear.useMicrophone(this.inputId || undefined);
      } else {
        this.ear.useStandIn();
      }
      this.listening = true;
      // What is played from now on counts; the names of the inputs can wait.
      this.beginSession(goesOnWith?.id);
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
    this.tune();
  }

  /** Tells the session the standard, and what sounds in the room. */
  tune(): void {
    this.session?.sayWhenReady({
      type: 'tune',
      level: this.player.standard,
      drone_hz: this.drone ? (this.plan?.drone_hz ?? null) : null,
    });
  }

  private soundDrone(): void {
    const hz = this.plan?.drone_hz;
    if (this.drone && hz) this.tone.play(hz);
    else this.tone.stop();
  }

  async stop(): Promise<void> {
    this.hangUp();
    this.going.hush();
    this.listening = false;
    this.playing = false;
    this.level.end();
    const ear = this.ear;
    this.ear = null;
    this.following = null;
    this.bar(false);
    await ear?.close();
  }

  /** Turns the last verdict round, or takes that back. */
  async overrule(): Promise<void> {
    const take = this.take;
    if (!take) return;
    const { passed, overruled } = take.verdict;
    const says = overruled ? null : !passed;
    if (this.session?.say({ type: 'overrule', take_id: take.id, passed: says })) return;
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
    live.clear();
    await this.stop();
  }

  /** While the Stand listens its exercise gives the time and the tone, where there is any. */
  private bar(barred: boolean): void {
    if (barred) {
      metronome.stop();
      drone.stop();
      awake.hold();
    } else awake.release();
    metronome.barred = drone.barred = barred;
  }

  /** A session that is gone on with is counted at the rate it began with. */
  private async openEar(rate?: number): Promise<Hearing> {
    const speed = clockSpeed();
    const quick = this.source === 'stand-in' && speed !== 1;
    this.bar(true);
    const ear: Hearing = quick ? new QuickEar(speed, () => this.quickLimit) : await Ear.open(rate);
    ear.onchunk = (pcm, first) => this.hand(pcm, first);
    this.level.begin();
    ear.onlevel = (peak) => this.level.put(peak);
    ear.onunplugged = () => {
      this.session?.say({ type: 'lost' });
      void this.stop().then(async () => {
        this.trouble = 'unplugged';
        if (this.whole) this.open = await openOf(this.player.id).catch(() => null);
      });
    };
    return ear;
  }

  /** Up to where on its clock a quick ear knows that it was heard. A session that has just begun
   * was told nothing yet, and nothing is lost by handing it its first sound. */
  private get quickLimit(): number {
    const { session, turns } = this;
    if (!session || turns.fetching) return 0;
    return session.begun ? session.onClock(this.heardTo) : Infinity;
  }

  /** The sample of the session up to which the server has told what it heard. */
  private get heardTo(): number {
    const heard = Math.round((this.frames.end / FRAMES_A_SECOND) * (this.ear?.sampleRate ?? 0));
    return Math.max(heard, this.session?.begins ?? 0);
  }

  private hand(pcm: ArrayBuffer, first: number): void {
    const { session } = this;
    if (!session) return;
    session.push(pcm, first);
    const now = performance.now();
    if (now - this.counted < FASTEST_COUNT_MS) return;
    this.counted = now;
    this.going.sample = session.sampleAt(first);
  }

  private counted = 0;

  /** A session was left in a pause, and is to be gone on with. */
  private goesOn = false;

  /** A session was begun on another device, and what is on the Stand comes from it. */
  private takesUp = false;

  private beginSession(goesOnWith?: string): void {
    const { plan, ear, whole } = this;
    if (!plan || !ear) return;
    this.beginAnew();
    const hello = {
      player_id: this.player.id,
      title: whole?.title ?? '',
      kind: whole?.kind ?? 'task',
      exercises: whole?.exercises ?? [{ ...exerciseOf(plan), why: '' }],
      source: this.source,
      sample_rate: ear.sampleRate,
      // The stand-in's sound does not come through the room.
      drone_hz: this.drone && this.source === 'microphone' ? plan.drone_hz : null,
      latency_s: this.source === 'microphone' ? latencyOf(this.inputId) : null,
      processing: ear.processing,
    };
    this.openLine((events) => new Line(hello, events, goesOnWith));
  }

  /** Nothing of the session before is left. */
  private beginAnew(): void {
    this.session?.close();
    this.clear();
    this.level.heard = null;
    this.going.clear();
    this.turns.begin();
    this.line = 'connecting';
  }

  /** Opens a line, and follows what it tells for as long as it is the Stand's. */
  private openLine(open: (events: Partial<LineEvents>) => SessionLine): void {
    const session: SessionLine = open({
      frames: ({ first, pitch_cents, level_db, harmonicity_db }) => {
        if (session !== this.session) return;
        this.frames.put(first, pitch_cents, level_db, harmonicity_db);
        // An ear that is elsewhere hands nothing over here that could tell the time.
        if (this.following) this.going.sample = this.heardTo;
      },
      playingSince: (frame) => {
        if (session === this.session) this.followAttempt(frame);
      },
      marks: (first, marks, step) => {
        if (session === this.session) this.hear(first, marks, step);
      },
      session: (told) => {
        if (session === this.session && this.ear) this.goOn(told, session, this.ear);
      },
      refused: (detail) => {
        if (session === this.session) this.refused = detail;
      },
      microphone: (heard) => {
        if (session === this.session) this.level.heard = heard;
      },
      verdict: (take) => {
        // An attempt cut off by leaving is kept after the view has gone.
        record.grew();
        if (session === this.session) this.showTake(take);
      },
      gettingReady: (leftS) => {
        if (session === this.session) this.gettingReady = { leftS };
      },
      moved: () => {
        // What the other device hears is shown from now on.
        if (session !== this.session) return;
        this.dismissed = '';
        live.clear();
        void this.stop();
      },
      state: (state, problem) => {
        if (session !== this.session) return;
        this.line = state;
        this.gettingReady = null;
        this.problem = problem;
        if (state === 'refused') void this.stop();
      },
    });
    this.session = session;
  }

  private goOn(told: SessionTold, session: SessionLine, ear: Hearing): void {
    const task = this.going.plan;
    this.going.follow(told, session, ear);
    if (this.following) {
      this.plan = this.going.plan;
      this.line = 'live';
      if (this.plan !== task) this.reached = null;
      return;
    }
    if (this.goesOn && told.now.paused) this.press('go-on');
    this.goesOn = false;
    if (this.takesUp && told.plan) {
      this.plan = told.plan;
      this.asked = exerciseOf(told.plan);
      this.takesUp = false;
    }
    if (!this.whole) return;
    if (told.now.ended) live.clear();
    else live.set(session.session);
    if (this.going.plan !== task) {
      this.plan = this.going.plan;
      this.reached = null;
      this.soundDrone();
      if (this.drone) this.tune();
    }
    if (this.source !== 'stand-in') return;
    this.turns
      .play(told, session, ear, this.skill, () => this.going.readyFrom)
      .catch((error: unknown) => (this.problem = problemOf(error)));
  }

  private followAttempt(playingSince: number | null): void {
    this.playing = playingSince !== null;
    const last = this.attempts.at(-1);
    if (playingSince !== null) {
      // After a reconnection the same attempt is told of again.
      if (last && last.from === playingSince) {
        this.attempts = [...this.attempts.slice(0, -1), { ...last, to: null }];
        return;
      }
      this.take = null;
      this.reached = null;
      this.attempts = [
        ...this.attempts,
        { from: playingSince, to: null, heard: [], take: null },
      ].slice(-KEEP_TRIES);
    } else if (last) {
      const to = this.frames.lastVoiced(last.from, this.frames.end);
      this.attempts = [...this.attempts.slice(0, -1), { ...last, to }];
    }
  }

  private hear(first: number, marks: Mark[], step: number | null): void {
    if (step !== null) this.reached = step;
    const last = this.attempts.at(-1);
    if (!last || last.to !== null) return;
    const before = last.heard.filter((mark) => frameAt(mark.at_s) < first);
    this.attempts = [...this.attempts.slice(0, -1), { ...last, heard: [...before, ...marks] }];
  }

  private showTake(take: JudgedTake): void {
    this.take = take;
    if (!this.playing) this.reached = null;
    this.attempts = this.attempts.map((one) =>
      Math.abs(one.from - take.first_frame - frameAt(take.sounds_from_s)) <= SAME_TRY_FRAMES ||
      one.take?.id === take.id
        ? { ...one, take }
        : one,
    );
  }

  private clear(): void {
    this.frames = new RibbonFrames();
    this.attempts = [];
    this.take = null;
    this.playing = false;
    this.reached = null;
  }

  private hangUp = (event?: Event): void => {
    // A page that is reloaded goes on with its session.
    if (event?.type === 'pagehide' && this.whole) this.session?.drop();
    else this.session?.close();
    this.session = null;
  };

  private listInputs = async (): Promise<void> => {
    this.inputs = (await this.ear?.inputs()) ?? this.inputs;
  };

  private async standInSound(): Promise<ArrayBuffer> {
    if (!this.plan) throw new Error('There is nothing on the Stand.');
    return this.sounds.fetch(this.player.id, exerciseOf(this.plan), this.skill);
  }

  private keepSettings(): void {
    if (this.whole) return;
    const exercise = this.plan ? exerciseOf(this.plan) : undefined;
    keepSettings(this.player.id, { source: this.source, exercise });
  }
}

function exerciseOf({ family, values }: Plan): Exercise {
  return { family, values };
}
