/** A session that another device of the house listens to, as the Stand of this one sees it. */
import type { OpenEar } from '../api/client';
import type { Hearing, Input } from '../audio/hearing';
import type { LineEvents, SessionLine } from '../audio/line';
import { house } from './house.svelte';

const FROM_AFAR = ['press', 'overrule', 'help'];

/** The line of a session whose sound comes to another device. */
export class FarLine implements SessionLine {
  readonly session: string;
  readonly begins = 0;
  readonly begun = true;

  constructor(ear: OpenEar, events: Partial<LineEvents>) {
    this.session = ear.session;
    house.watch(ear.session, events);
  }

  onClock(sample: number): number {
    return sample;
  }

  sampleAt(clock: number): number {
    return clock;
  }

  say(said: Parameters<SessionLine['say']>[0]): boolean {
    return FROM_AFAR.includes(said.type) && house.say(said as Parameters<typeof house.say>[0]);
  }

  sayWhenReady(said: Parameters<SessionLine['say']>[0]): void {
    this.say(said);
  }

  push(): void {
    // The sound goes to the server from where it is heard.
  }

  drop(): void {
    house.leave(this.session);
  }

  close(): void {
    house.leave(this.session);
  }
}

/** The ear of another device: nothing sounds here, clicks and tones least of all. */
export class FarEar implements Hearing {
  readonly processing = [];
  onchunk: Hearing['onchunk'] = () => undefined;
  onlevel: Hearing['onlevel'] = () => undefined;
  onunplugged: Hearing['onunplugged'] = () => undefined;

  constructor(readonly sampleRate: number) {}

  useMicrophone(): Promise<void> {
    return Promise.reject(new Error('Another device listens.'));
  }

  useStandIn(): void {
    this.hush();
  }

  play(): Promise<boolean> {
    return Promise.resolve(false);
  }

  hush(): void {
    // Nothing sounds.
  }

  click(): () => void {
    return () => undefined;
  }

  sound(): () => void {
    return () => undefined;
  }

  inputs(): Promise<Input[]> {
    return Promise.resolve([]);
  }

  close(): Promise<void> {
    return Promise.resolve();
  }
}
