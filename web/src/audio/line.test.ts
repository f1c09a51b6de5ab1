import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Line, type LineEvents, type Opening } from './line';

/** A socket that a test opens, feeds and drops. */
class FakeSocket {
  static made: FakeSocket[] = [];
  sent: (string | Uint8Array)[] = [];
  onopen?: () => void;
  onmessage?: (event: { data: string }) => void;
  onclose?: (event: { code: number }) => void;

  constructor(readonly url: string) {
    FakeSocket.made.push(this);
  }

  send(data: string | Uint8Array): void {
    this.sent.push(data);
  }

  close(): void {
    this.onclose?.({ code: 1000 });
  }

  tell(message: object): void {
    this.onmessage?.({ data: JSON.stringify(message) });
  }

  /** The numbers of the chunks that were sent. */
  get chunks(): number[] {
    return this.sent
      .filter((one) => typeof one !== 'string')
      .map((one) => new DataView(one.buffer).getUint32(0, true));
  }

  get hello(): { oldest_seq: number; resumes: boolean; session: string } {
    return JSON.parse(this.sent.find((one) => typeof one === 'string') ?? '{}') as never;
  }
}

const opening = { kind: 'task' } as unknown as Opening;

function events(): Partial<LineEvents> & { states: string[] } {
  const states: string[] = [];
  return {
    states,
    state: (state) => states.push(state),
  };
}

function socket(): FakeSocket {
  const last = FakeSocket.made.at(-1);
  if (!last) throw new Error('no socket was opened');
  return last;
}

const chunk = () => new ArrayBuffer(1024);

beforeEach(() => {
  FakeSocket.made = [];
  vi.stubGlobal('WebSocket', FakeSocket);
  vi.stubGlobal('location', { protocol: 'http:', host: '127.0.0.1:8420' });
  vi.useFakeTimers();
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('what is played before the server is ready is sent once it is, numbered from 0', () => {
  const line = new Line(opening, events());
  for (let at = 0; at < 3; at++) line.push(chunk(), 7000 + 512 * at);
  socket().onopen?.();
  expect(socket().chunks).toEqual([]);
  socket().tell({ type: 'ready', next: 0 });
  expect(socket().chunks).toEqual([0, 1, 2]);
  line.push(chunk(), 7000 + 3 * 512);
  expect(socket().chunks).toEqual([0, 1, 2, 3]);
  // Sample 0 of the session is where its first chunk was on the ear's clock.
  expect(line.onClock(512)).toBe(7512);
  expect(line.sampleAt(7512)).toBe(512);
});

test('a dropped line goes on with the first chunk that is not on disk', () => {
  const told = events();
  const line = new Line(opening, told);
  socket().tell({ type: 'ready', next: 0 });
  for (let at = 0; at < 5; at++) line.push(chunk(), 512 * at);
  socket().tell({ type: 'ack', next: 2 });
  socket().onclose?.({ code: 1006 });
  line.push(chunk(), 5 * 512);
  vi.advanceTimersByTime(250);
  expect(FakeSocket.made).toHaveLength(2);
  socket().onopen?.();
  expect(socket().hello.oldest_seq).toBe(2);
  // The server has one more than it said.
  socket().tell({ type: 'ready', next: 3 });
  expect(socket().chunks).toEqual([3, 4, 5]);
  expect(told.states).toEqual(['live', 'lost', 'live']);
});

test('a line that is gone is asked for less and less often, until it is there again', () => {
  new Line(opening, events());
  const waits: number[] = [];
  for (const wait of [250, 500, 1000, 2000, 3000, 3000]) {
    socket().onclose?.({ code: 1006 });
    const before = FakeSocket.made.length;
    vi.advanceTimersByTime(wait - 1);
    expect(FakeSocket.made).toHaveLength(before);
    vi.advanceTimersByTime(1);
    expect(FakeSocket.made).toHaveLength(before + 1);
    waits.push(wait);
  }
  socket().tell({ type: 'ready', next: 0 });
  socket().onclose?.({ code: 1006 });
  vi.advanceTimersByTime(250);
  expect(FakeSocket.made).toHaveLength(waits.length + 2);
});

test('a session that is gone on with is numbered from where it is', () => {
  const line = new Line(opening, events(), 'ab'.repeat(16));
  line.push(chunk(), 9000);
  socket().onopen?.();
  expect(socket().hello).toMatchObject({ resumes: true, session: 'ab'.repeat(16) });
  socket().tell({ type: 'ready', next: 40 });
  expect(socket().chunks).toEqual([40]);
  expect(line.begins).toBe(40 * 512);
  expect(line.onClock(40 * 512)).toBe(9000);
  expect(line.begun).toBe(true);
});

test('a session that cannot be is given up with the reason', () => {
  const told = events();
  new Line(opening, told);
  const problems: unknown[] = [];
  told.state = (state, problem) => problems.push([state, problem]);
  socket().tell({ type: 'problem', title: 'No', detail: 'Because.' });
  socket().onclose?.({ code: 4001 });
  expect(problems).toEqual([['refused', { title: 'No', detail: 'Because.' }]]);
  vi.advanceTimersByTime(60_000);
  expect(FakeSocket.made).toHaveLength(1);
});

test('what is said before the server is ready is said then, in order', () => {
  const line = new Line(opening, events());
  expect(line.say({ type: 'press', press: 'on' } as never)).toBe(false);
  line.sayWhenReady({ type: 'press', press: 'on' } as never);
  line.sayWhenReady({ type: 'press', press: 'back' } as never);
  socket().tell({ type: 'ready', next: 0 });
  expect(socket().sent).toEqual([
    '{"type":"press","press":"on"}',
    '{"type":"press","press":"back"}',
  ]);
});

test('a session that is left says so, and sends nothing more', () => {
  const line = new Line(opening, events());
  socket().tell({ type: 'ready', next: 0 });
  line.close();
  line.push(chunk(), 0);
  expect(socket().sent).toEqual(['{"type":"bye"}']);
  socket().onclose?.({ code: 1000 });
  vi.advanceTimersByTime(60_000);
  expect(FakeSocket.made).toHaveLength(1);
});
