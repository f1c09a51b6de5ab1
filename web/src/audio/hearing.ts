/** What the Stand needs of an ear, whatever it hears with: numbered sound, and a clock for it. */
import type { Schemas } from '../api/client';
import type { Beat } from './clicks';

export type Processing = Schemas['Processing'];

export interface Hearing {
  readonly sampleRate: number;
  /** What the browser does to the microphone's sound though it was asked not to. */
  readonly processing: Processing[];
  /** One chunk: its samples, and where its first one is on the ear's clock, in samples. */
  onchunk: (pcm: ArrayBuffer, first: number) => void;
  onlevel: (peak: number) => void;
  onunplugged: () => void;
  useMicrophone(inputId?: string): Promise<void>;
  useStandIn(): void;
  /** Plays a sound file into the ear, from a sample of its clock on or at once; resolves at its end,
   * true where it was played to it. */
  play(file: ArrayBuffer, at?: number): Promise<boolean>;
  /** Stops what `play` plays. */
  hush(): void;
  /** Clicks to the room, on samples of the ear's clock; returns what stops them. */
  click(beats: Pick<Beat, 'sample' | 'click'>[]): () => void;
  /** Sounds a pitch to the room between two samples of the ear's clock; returns what stops it. */
  sound(hz: number, from: number, to: number): () => void;
  inputs(): Promise<Input[]>;
  close(): Promise<void>;
}

export interface Input {
  id: string;
  label: string;
}
