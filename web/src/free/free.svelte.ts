import {
  answer,
  api,
  problemOf,
  type Chart,
  type FreeOver,
  type NoteNow,
  type Player,
  type Problem,
  type Schemas,
} from '../api/client';
import { awake } from '../audio/awake';
import { Ear, EarError, type EarTrouble } from '../audio/ear';
import { Line, type LineState } from '../audio/line';
import { Level } from '../microphone/level.svelte';
import { RibbonFrames } from '../ribbon/frames';
import { drone } from '../sounding/drone.svelte';
import { metronome } from '../sounding/metronome.svelte';
import { latencyOf } from '../stand/sessions';
import { record } from '../takes/record.svelte';
import { FollowedPiece } from './piece.svelte';

type Unclaimed = Schemas['UnclaimedOut'];

const NEIGHBOURS = 2;

/** Playing without a task: what sounds, and what was played once it is over. */
export class FreePlay {
  listening = $state(false);
  starting = $state(false);
  readonly level = new Level();
  line = $state<LineState>('connecting');
  problem = $state.raw<Problem | null>(null);
  trouble = $state<EarTrouble | null>(null);
  gettingReady = $state.raw<{ leftS: number | null } | null>(null);
  chart = $state.raw<Chart | null>(null);
  /** The note that sounds, or that sounded last. */
  note = $state.raw<NoteNow | null>(null);
  sounding = $state(false);
  /** What came of the last one. */
  over = $state.raw<FreeOver | null>(null);
  /** It has been left and is being put together. */
  ending = $state(false);
  frames = new RibbonFrames();
  unclaimed = $state.raw<Unclaimed[]>([]);
  /** How many spots were marked. */
  marked = $state(0);
  readonly piece: FollowedPiece | null;

  private ear: Ear | null = null;
  private session: Line | null = null;

  constructor(readonly player: Player | null) {
    addEventListener('pagehide', this.hangUp);
    this.piece = player && new FollowedPiece(player.id, (own_id) => this.open(own_id));
    void this.load();
    void this.loadUnclaimed();
  }

  /** Playing that is nobody's yet. */
  async loadUnclaimed(): Promise<void> {
    try {
      this.unclaimed = await answer(api.GET('/api/sittings/unclaimed'));
    } catch {
      // It is asked for again when the view is opened.
    }
  }

  /** Says whose some playing was; it is then told as theirs. */
  async claim(sitting: Unclaimed, player: Player): Promise<void> {
    const params = { path: { sitting_id: sitting.id } };
    try {
      const body = { player_id: player.id };
      const over = await answer(api.POST('/api/sittings/{sitting_id}/owner', { params, body }));
      this.over = { ...over, type: 'over' };
      record.grew();
    } catch (error) {
      this.problem = problemOf(error);
    }
    await this.loadUnclaimed();
  }

  async discard(sitting: Unclaimed): Promise<void> {
    const params = { path: { sitting_id: sitting.id } };
    try {
      await answer(api.DELETE('/api/sittings/{sitting_id}', { params }));
      if (!this.over?.recording_id) this.over = null;
    } catch (error) {
      this.problem = problemOf(error);
    }
    await this.loadUnclaimed();
  }

  async load(): Promise<void> {
    try {
      const { player } = this;
      this.chart = await answer(
        player
          ? api.GET('/api/players/{player_id}/chart', {
              params: { path: { player_id: player.id } },
            })
          : api.GET('/api/chart'),
      );
      this.problem = null;
    } catch (error) {
      this.problem = problemOf(error);
    }
  }

  /** The note that sounds as the one that is asked for, and its neighbours, highest first. */
  get bands(): Chart['bands'] {
    const { chart, note } = this;
    if (!chart || !note) return [];
    // Where a drone sounds, a note belongs where it is in tune with that.
    const bands = chart.bands.map((band) => {
      const asked = band.pitch_cents === note.pitch_cents;
      return { ...band, asked, pitch_cents: asked ? note.target_cents : band.pitch_cents };
    });
    const at = bands.findIndex(({ asked }) => asked);
    return at < 0 ? [] : bands.slice(Math.max(at - NEIGHBOURS, 0), at + NEIGHBOURS + 1);
  }

  async start(): Promise<void> {
    if (this.starting || this.listening) return;
    this.starting = true;
    this.trouble = null;
    this.problem = null;
    try {
      const ear = (this.ear = await Ear.open());
      ear.onchunk = (pcm, first) => {
        const { session } = this;
        if (!session) return;
        const begins = !session.begun;
        session.push(pcm, first);
        if (begins) this.follow(ear, session);
      };
      this.level.begin();
      ear.onlevel = (peak) => this.level.put(peak);
      ear.onunplugged = () => void this.stop().then(() => (this.trouble = 'unplugged'));
      await ear.useMicrophone();
      this.begin(ear);
      this.listening = true;
      awake.hold();
    } catch (error) {
      await this.closeEar();
      this.trouble = error instanceof EarError ? error.trouble : 'unusable';
    } finally {
      this.starting = false;
    }
  }

  private begin(ear: Ear): void {
    this.frames = new RibbonFrames();
    this.note = this.over = null;
    this.marked = 0;
    this.piece?.beginAnew();
    this.sounding = false;
    this.line = 'connecting';
    const mine = (): boolean => session === this.session;
    const session: Line = new Line(
      {
        player_id: this.player?.id ?? null,
        title: '',
        kind: 'free',
        exercises: [],
        source: 'microphone',
        sample_rate: ear.sampleRate,
        drone_hz: null,
        latency_s: latencyOf(''),
        processing: ear.processing,
      },
      {
        frames: ({ first, pitch_cents, level_db, harmonicity_db }) => {
          if (mine()) this.frames.put(first, pitch_cents, level_db, harmonicity_db);
        },
        microphone: (heard) => {
          if (mine()) this.level.heard = heard;
        },
        note: (note) => {
          this.sounding = note !== null;
          // What sounded last stays to be read.
          if (note) this.note = note;
        },
        place: (place) => {
          if (this.piece && mine()) this.piece.place = place;
        },
        refused: (detail) => (drone.trouble = detail),
        over: (over) => {
          this.over = over;
          this.ending = false;
          if (over.recording_id) record.grew();
          void this.loadUnclaimed();
        },
        gettingReady: (leftS) => (this.gettingReady = { leftS }),
        state: (state, problem) => {
          if (!mine()) return;
          this.line = state;
          this.gettingReady = null;
          this.problem = problem;
          if (state === 'ended') this.ending = true;
          if (state === 'refused' || state === 'ended') void this.stop();
        },
      },
    );
    this.session = session;
    if (this.piece?.own) this.open(this.piece.own.id);
  }

  /** Says which piece is followed from now on. */
  private open(own_id: string | null): void {
    this.session?.sayWhenReady({ type: 'piece', own_id });
  }

  /** From its first sound on it is told of the time and the tone that are given on its clock. */
  private follow(ear: Ear, session: Line): void {
    metronome.listenedToBy({
      room: ear.room,
      told: (pulse, sample) => {
        const at = Math.max(Math.round(session.sampleAt(sample)), 0);
        session.sayWhenReady({ type: 'metronome', pulse, sample: at });
      },
    });
    drone.listenedToBy((sounds) => session.sayWhenReady({ type: 'drone', drone: sounds }));
  }

  /** Marks the spot that is played now. */
  mark(): void {
    if (!this.session?.begun) return;
    this.session.sayWhenReady({ type: 'mark' });
    this.marked++;
  }

  /** Ends it; what was played is put together as a recording. */
  async stop(): Promise<void> {
    this.ending ||= this.listening && this.line === 'live';
    this.hangUp();
    this.listening = false;
    this.sounding = false;
    await this.closeEar();
  }

  async leave(): Promise<void> {
    removeEventListener('pagehide', this.hangUp);
    await this.stop();
  }

  private hangUp = (): void => {
    this.session?.close();
    this.session = null;
  };

  private async closeEar(): Promise<void> {
    metronome.listenedToBy(null);
    drone.listenedToBy(null);
    const { ear } = this;
    this.ear = null;
    this.level.end();
    awake.release();
    await ear?.close();
  }
}
