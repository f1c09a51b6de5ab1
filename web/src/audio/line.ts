import type {
  FreeOver,
  Hello,
  JudgedTake,
  Mark,
  MicrophoneHeard,
  NoteNow,
  PlaceTold,
  Problem,
  ServerMessage,
  Schemas,
} from '../api/client';

/** Must match the worklet and the server: samples in one numbered chunk. */
export const CHUNK_SAMPLES = 512;

/** 16 minutes at 48 kHz: what is kept here while the server is gone. */
const MOST_HELD = 90_000;
const FIRST_RETRY_MS = 250;
const LONGEST_RETRY_MS = 3000;
const GIVE_UP_CODE = 4001;

/** What a session says of itself; the line adds which it is and where it stands. */
export type Opening = Omit<Hello, 'type' | 'session' | 'started_at' | 'oldest_seq' | 'resumes'>;

export type SessionTold = Extract<ServerMessage, { type: 'session' }>;

export type FramesMessage = Extract<ServerMessage, { type: 'frames' }>;

type Words = Schemas[
  | 'Pressing'
  | 'Putting'
  | 'Tuning'
  | 'Overruling'
  | 'Helping'
  | 'LosingSound'
  | 'GivingTime'
  | 'SoundingDrone'
  | 'Marking'
  | 'OpeningPiece'];

/** `ended`: the server has ended the session by itself, and all of it is kept. */
export type LineState = 'connecting' | 'live' | 'lost' | 'refused' | 'ended';

/** What a line tells; whoever opens it listens for what concerns them. */
export interface LineEvents {
  frames(frames: FramesMessage): void;
  playingSince(frame: number | null): void;
  /** What is heard of the sounding attempt so far, whole from a frame on, and the step reached. */
  marks(first: number, marks: Mark[], step: number | null): void;
  /** Where the session is, whenever it has moved on. */
  session(told: SessionTold): void;
  /** What was asked for cannot be, and why. */
  refused(detail: string): void;
  verdict(take: JudgedTake): void;
  /** How well the microphone hears. */
  microphone(heard: MicrophoneHeard): void;
  /** The note that sounds, where there is no task. */
  note(note: NoteNow | null): void;
  /** Where one is in the piece that is followed. */
  place(place: PlaceTold): void;
  /** Another device listens from now on. */
  moved(device: string): void;
  /** What came of playing without a task. */
  over(over: FreeOver): void;
  /** The server gets ready to listen; about how many seconds that still takes, where it is known. */
  gettingReady(leftS: number | null): void;
  state(state: LineState, problem: Problem | null): void;
}

/** What the Stand needs of a line, whether its sound goes over it or comes to another device. */
export type SessionLine = Pick<
  Line,
  | 'session'
  | 'begins'
  | 'begun'
  | 'onClock'
  | 'sampleAt'
  | 'say'
  | 'sayWhenReady'
  | 'push'
  | 'drop'
  | 'close'
>;

/** The address of a socket of the server. */
export function socketAddress(path: string): string {
  const scheme = location.protocol === 'https:' ? 'wss' : 'ws';
  return `${scheme}://${location.host}${path}`;
}

/** Tells of what a session's messages say; those of the line itself are left to it. */
export function tellOf(message: ServerMessage, events: Partial<LineEvents>): void {
  switch (message.type) {
    case 'getting-ready':
      events.gettingReady?.(message.left_s);
      break;
    case 'frames':
      events.frames?.(message);
      break;
    case 'state':
      events.playingSince?.(message.playing_since);
      break;
    case 'marks':
      events.marks?.(message.first, message.marks, message.step);
      break;
    case 'session':
      events.session?.(message);
      break;
    case 'refused':
      events.refused?.(message.detail);
      break;
    case 'verdict':
      events.verdict?.(message.take);
      break;
    case 'microphone':
      events.microphone?.(message);
      break;
    case 'note':
      events.note?.(message.note);
      break;
    case 'place':
      events.place?.(message);
      break;
    case 'moved':
      events.moved?.(message.device);
      break;
    case 'over':
      events.over?.(message);
      break;
  }
}

/**
 * One session's line to the server. Every chunk is held until the server says it is on disk, so
 * a dropped socket or a restarted server only makes the line pick up where the disk left off.
 */
export class Line {
  readonly session: string;
  private readonly startedAt = new Date().toISOString();
  /** Whether sample 0 of what is sent here is not that of the session. */
  private resumes: boolean;
  /** The session's number of the first sample of this clock's; known once the server is ready. */
  private origin: number | null;
  private held: ArrayBuffer[] = [];
  private firstHeld = 0;
  private nextToSend = 0;
  private socket: WebSocket | null = null;
  private ready = false;
  private closing = false;
  private retryMs = FIRST_RETRY_MS;
  private retry: ReturnType<typeof setTimeout> | undefined;
  private problem: Problem | null = null;
  private clock: number | null = null;
  private unsaid: Words[] = [];

  /** Where a sample of the session is on the ear's clock. */
  onClock(sample: number): number {
    return (this.clock ?? 0) + sample - (this.origin ?? 0);
  }

  /** Whether anything of this session has been handed over on the ear's clock. */
  get begun(): boolean {
    return this.clock !== null;
  }

  /** Which sample of the session is at a place on the ear's clock. */
  sampleAt(clock: number): number {
    return clock - (this.clock ?? clock) + (this.origin ?? 0);
  }

  /** The sample of the session that this clock's first one is. */
  get begins(): number {
    return this.origin ?? 0;
  }

  /** Says something to the server, as soon as it can be heard. */
  sayWhenReady(said: Words): void {
    if (!this.say(said)) this.unsaid.push(said);
  }

  /** Says something to the server; false while it cannot be heard. */
  say(said: Words): boolean {
    if (!this.ready || !this.socket) return false;
    this.socket.send(JSON.stringify(said));
    return true;
  }

  /** Begins a session, or goes on with one that was left. */
  constructor(
    private readonly opening: Opening,
    private readonly events: Partial<LineEvents>,
    goesOnWith?: string,
  ) {
    this.session = goesOnWith ?? crypto.randomUUID().replaceAll('-', '');
    this.resumes = goesOnWith !== undefined;
    this.origin = this.resumes ? null : 0;
    this.connect();
  }

  /** A chunk, and where on the ear's clock its first sample is. */
  push(pcm: ArrayBuffer, first: number): void {
    if (this.closing) return;
    this.clock ??= first;
    this.held.push(pcm);
    if (this.held.length > MOST_HELD) this.letGo(this.firstHeld + 1);
    this.flush();
  }

  /** Lets go of the line without a word: the session stays as it is. */
  drop(): void {
    this.closing = true;
    clearTimeout(this.retry);
    this.socket?.close();
  }

  /** Leaves the session; an attempt that is sounding is judged as far as it went. */
  close(): void {
    this.closing = true;
    clearTimeout(this.retry);
    if (this.ready) this.socket?.send(JSON.stringify({ type: 'bye' }));
    else this.socket?.close();
  }

  private connect(): void {
    const socket = new WebSocket(socketAddress('/api/live'));
    this.socket = socket;
    socket.onopen = () =>
      socket.send(
        JSON.stringify({
          type: 'hello',
          session: this.session,
          started_at: this.startedAt,
          oldest_seq: this.firstHeld,
          resumes: this.resumes,
          ...this.opening,
        }),
      );
    socket.onmessage = ({ data }) => this.hear(JSON.parse(data as string) as ServerMessage);
    socket.onclose = ({ code }) => this.lose(code);
  }

  private hear(message: ServerMessage): void {
    switch (message.type) {
      case 'ready':
        if (this.resumes) {
          // What is here was counted from 0, and is numbered from where the session is.
          this.firstHeld = message.next;
          this.origin = message.next * CHUNK_SAMPLES;
          this.resumes = false;
        }
        this.letGo(message.next);
        this.nextToSend = Math.max(message.next, this.firstHeld);
        this.ready = true;
        this.retryMs = FIRST_RETRY_MS;
        this.problem = null;
        this.events.state?.('live', null);
        this.flush();
        for (const said of this.unsaid.splice(0)) this.say(said);
        break;
      case 'ack':
        this.letGo(message.next);
        break;
      case 'problem':
        this.problem = { title: message.title, detail: message.detail };
        break;
      case 'closed':
        this.socket?.close();
        if (this.closing) break;
        this.closing = true;
        this.events.state?.('ended', null);
        break;
      default:
        tellOf(message, this.events);
    }
  }

  private lose(code: number): void {
    this.ready = false;
    this.socket = null;
    if (this.closing) return;
    if (code === GIVE_UP_CODE) {
      this.closing = true;
      this.events.state?.('refused', this.problem);
      return;
    }
    this.events.state?.('lost', this.problem);
    this.retry = setTimeout(() => this.connect(), this.retryMs);
    this.retryMs = Math.min(2 * this.retryMs, LONGEST_RETRY_MS);
  }

  /** Drops the chunks before `seq`: they are on the server's disk. */
  private letGo(seq: number): void {
    const count = Math.min(seq - this.firstHeld, this.held.length);
    if (count > 0) {
      this.held.splice(0, count);
      this.firstHeld += count;
    }
  }

  private flush(): void {
    if (!this.ready || !this.socket) return;
    for (; this.nextToSend < this.firstHeld + this.held.length; this.nextToSend++) {
      const pcm = this.held[this.nextToSend - this.firstHeld];
      if (!pcm) return;
      const message = new Uint8Array(4 + pcm.byteLength);
      new DataView(message.buffer).setUint32(0, this.nextToSend, true);
      message.set(new Uint8Array(pcm), 4);
      this.socket.send(message);
    }
  }
}
