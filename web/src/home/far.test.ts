import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { OpenEar } from '../api/client';
import { FarEar, FarLine } from './far';
import { house } from './house.svelte';

/** A socket to the house that a test answers for. */
class Socket {
  static last: Socket;
  sent: unknown[] = [];
  onopen: () => void = () => undefined;
  onmessage: (event: { data: string }) => void = () => undefined;
  onclose: (event: { code: number }) => void = () => undefined;
  constructor(readonly url: string) {
    Socket.last = this;
  }
  send(text: string) {
    this.sent.push(JSON.parse(text));
  }
  tell(message: object) {
    this.onmessage({ data: JSON.stringify(message) });
  }
}

const ear = { session: 'a'.repeat(32), sample_rate: 48_000 } as OpenEar;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('WebSocket', Socket);
  vi.stubGlobal('location', { protocol: 'https:', host: '192.168.1.7:8420' });
});

afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('what another device hears is told, and again after the line broke', () => {
  house.begin();
  const first = Socket.last;
  expect(first.url).toBe('wss://192.168.1.7:8420/api/house');
  const refused: string[] = [];
  const line = new FarLine(ear, { refused: (detail) => refused.push(detail) });
  expect(first.sent).toEqual([]);
  expect(line.say({ type: 'press', press: 'pause' })).toBe(false);
  first.onopen();
  const watch = { type: 'watch', session: ear.session };
  expect(first.sent).toEqual([watch]);
  first.tell({ type: 'ears', device: 'Phone', ears: [ear] });
  expect([house.device, house.ears.length]).toEqual(['Phone', 1]);
  first.tell({ type: 'refused', detail: 'no' });
  expect(refused).toEqual(['no']);

  first.onclose({ code: 1006 });
  expect(house.ears).toEqual([]);
  vi.advanceTimersByTime(500);
  const second = Socket.last;
  expect(second).not.toBe(first);
  second.onopen();
  expect(second.sent).toEqual([watch]);

  // What may be said from afar is, and nothing else.
  expect(line.say({ type: 'press', press: 'pause' })).toBe(true);
  expect(line.say({ type: 'lost' })).toBe(false);
  line.close();
  expect(second.sent.slice(1)).toEqual([
    { type: 'press', press: 'pause' },
    { type: 'watch', session: null },
  ]);
  second.tell({ type: 'refused', detail: 'late' });
  expect(refused).toEqual(['no']);
});

test('an ear elsewhere sounds nothing here and counts as the session does', async () => {
  const far = new FarEar(44_100);
  expect(far.sampleRate).toBe(44_100);
  await expect(far.useMicrophone()).rejects.toThrow('Another device listens.');
  expect(await far.play()).toBe(false);
  expect(await far.inputs()).toEqual([]);
});
