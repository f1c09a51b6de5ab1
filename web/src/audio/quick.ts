import type { Beat } from './clicks';
import type { Hearing, Input } from './hearing';

const CHUNK_SAMPLES = 512;
const RATE = 48_000;
const TICK_MS = 10;
/** How far (s) it may run ahead of what the server has told. */
const AHEAD_S = 0.8;
const WAV_HEADER_BYTES = 44;

/**
 * An ear for the stand-in player alone whose clock runs faster than the room's: it counts samples as
 * the other does, and nothing else is quicker. For trying a whole session out, and for tests.
 */
export class QuickEar implements Hearing {
  onchunk: (pcm: ArrayBuffer, first: number) => void = () => undefined;
  onlevel: (peak: number) => void = () => undefined;
  onunplugged: () => void = () => undefined;

  readonly sampleRate = RATE;
  readonly processing = [];
  private now = 0;
  private playing: { samples: Int16Array; at: number; done: (whole: boolean) => void } | null =
    null;
  private readonly timer: ReturnType<typeof setInterval>;

  /** `speed` times as fast; `heard` says up to which sample the server has told. */
  constructor(
    private readonly speed: number,
    private readonly heard: () => number,
  ) {
    this.timer = setInterval(() => this.tick(), TICK_MS);
  }

  useMicrophone(): Promise<void> {
    throw new Error('A quick clock has no microphone.');
  }

  useStandIn(): void {
    this.hush();
  }

  play(file: ArrayBuffer, at = this.now): Promise<boolean> {
    const samples = resampled(file);
    return new Promise((done) => (this.playing = { samples, at: Math.max(at, this.now), done }));
  }

  hush(): void {
    const { playing } = this;
    this.playing = null;
    playing?.done(false);
  }

  click(beats: Pick<Beat, 'sample' | 'click'>[]): () => void {
    void beats;
    return () => undefined;
  }

  sound(): () => void {
    return () => undefined;
  }

  inputs(): Promise<Input[]> {
    return Promise.resolve([]);
  }

  close(): Promise<void> {
    clearInterval(this.timer);
    this.hush();
    return Promise.resolve();
  }

  private tick(): void {
    const most = Math.ceil((this.speed * TICK_MS * RATE) / 1000 / CHUNK_SAMPLES);
    for (let i = 0; i < most && this.now - this.heard() < AHEAD_S * RATE; i++) this.hand();
  }

  private hand(): void {
    const chunk = new Int16Array(CHUNK_SAMPLES);
    const { playing: sound, now } = this;
    if (sound) {
      const from = now - sound.at;
      for (let i = Math.max(0, -from); i < CHUNK_SAMPLES; i++)
        chunk[i] = sound.samples[from + i] ?? 0;
      if (from + CHUNK_SAMPLES >= sound.samples.length) {
        this.playing = null;
        sound.done(true);
      }
    }
    this.now += CHUNK_SAMPLES;
    this.onchunk(chunk.buffer, now);
  }
}

/** The samples of a mono 16-bit WAV file at this clock's rate, the nearest one each. */
function resampled(file: ArrayBuffer): Int16Array {
  const view = new DataView(file);
  const rate = view.getUint32(24, true);
  const samples = new Int16Array(file, WAV_HEADER_BYTES);
  const length = Math.floor((samples.length * RATE) / rate);
  const found = new Int16Array(length);
  for (let i = 0; i < length; i++) {
    const at = (i * rate) / RATE;
    const k = Math.floor(at);
    const one = samples[k] ?? 0;
    found[i] = one + (at - k) * ((samples[k + 1] ?? one) - one);
  }
  return found;
}
