import type { Beat } from './clicks';
import type { Hearing, Input, Processing } from './hearing';
import { Room } from './room';

/** What keeps the microphone from being heard. */
export type EarTrouble = 'none-found' | 'refused' | 'unplugged' | 'unusable';

export class EarError extends Error {
  constructor(readonly trouble: EarTrouble) {
    super(trouble);
  }
}

interface Chunk {
  pcm: ArrayBuffer;
  peak: number;
  first: number;
}

const RAW_SOUND = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };
const TO_THE_ROOM = 0.4;

/** The audio graph: the microphone or the stand-in player, through one worklet. */
export class Ear implements Hearing {
  onchunk: (pcm: ArrayBuffer, first: number) => void = () => undefined;
  onlevel: (peak: number) => void = () => undefined;
  onunplugged: () => void = () => undefined;

  /** The room, on the clock that this ear counts by. */
  readonly room: Room;

  processing: Processing[] = [];

  private source: AudioNode | null = null;
  private playing: AudioBufferSourceNode | null = null;
  private stream: MediaStream | null = null;

  private constructor(
    private readonly context: AudioContext,
    private readonly node: AudioWorkletNode,
  ) {
    this.room = new Room(context);
    node.port.onmessage = ({ data }: MessageEvent<Chunk>) => {
      this.onlevel(data.peak);
      this.onchunk(data.pcm, data.first);
    };
  }

  /** `sampleRate` is the device's own where it is not given. */
  static async open(sampleRate?: number): Promise<Ear> {
    const context = new AudioContext({ latencyHint: 'interactive', sampleRate });
    await context.audioWorklet.addModule('/ear-worklet.js');
    const node = new AudioWorkletNode(context, 'ear', { numberOfOutputs: 1 });
    // Nothing is heard of it, but only what leads to the output is run.
    const mute = new GainNode(context, { gain: 0 });
    node.connect(mute).connect(context.destination);
    await context.resume();
    return new Ear(context, node);
  }

  get sampleRate(): number {
    return this.context.sampleRate;
  }

  /** Listens to a microphone. Throws `EarError`. */
  async useMicrophone(inputId?: string): Promise<void> {
    this.release();
    const audio = { ...RAW_SOUND, ...(inputId ? { deviceId: { exact: inputId } } : {}) };
    let stream: MediaStream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({ audio });
    } catch (error) {
      throw new EarError(troubleOf(error));
    }
    this.stream = stream;
    const track = stream.getAudioTracks()[0];
    track?.addEventListener('ended', () => this.onunplugged());
    this.processing = track ? processingOf(track.getSettings()) : [];
    this.source = new MediaStreamAudioSourceNode(this.context, { mediaStream: stream });
    this.source.connect(this.node);
  }

  /** Lets go of the microphone; the stand-in player plays into the same worklet. */
  useStandIn(): void {
    this.release();
  }

  /** Plays a sound file into the worklet and, softly, to the room. */
  async play(file: ArrayBuffer, at?: number): Promise<boolean> {
    const buffer = await this.context.decodeAudioData(file.slice(0));
    const player = new AudioBufferSourceNode(this.context, { buffer });
    player.connect(this.node);
    player
      .connect(new GainNode(this.context, { gain: TO_THE_ROOM }))
      .connect(this.context.destination);
    this.source?.disconnect();
    this.source = this.playing = player;
    return new Promise((resolve) => {
      player.onended = () => resolve(this.playing === player);
      player.start(at === undefined ? 0 : at / this.sampleRate);
    });
  }

  hush(): void {
    const player = this.playing;
    this.playing = null;
    player?.stop();
    player?.disconnect();
  }

  /** Plays a sound file to the room alone; returns the sample of the clock it begins at. */
  async playToRoom(file: ArrayBuffer, inS: number): Promise<number> {
    const buffer = await this.context.decodeAudioData(file.slice(0));
    const player = new AudioBufferSourceNode(this.context, { buffer });
    player.connect(this.context.destination);
    const at = this.context.currentTime + inS;
    player.start(at);
    return Math.round(at * this.sampleRate);
  }

  click(beats: Pick<Beat, 'sample' | 'click'>[]): () => void {
    return this.room.click(beats);
  }

  sound(hz: number, from: number, to: number): () => void {
    return this.room.sound(hz, from, to);
  }

  async inputs(): Promise<Input[]> {
    const devices = await navigator.mediaDevices.enumerateDevices();
    return devices
      .filter((device) => device.kind === 'audioinput' && device.deviceId !== '')
      .map((device) => ({ id: device.deviceId, label: device.label || 'Microphone' }));
  }

  async close(): Promise<void> {
    this.release();
    this.node.port.onmessage = null;
    await this.context.close();
  }

  private release(): void {
    this.hush();
    this.source?.disconnect();
    this.source = null;
    for (const track of this.stream?.getTracks() ?? []) track.stop();
    this.stream = null;
  }
}

function processingOf(settings: MediaTrackSettings): Processing[] {
  const done: [Processing, boolean | undefined][] = [
    // Newer browsers say which kind they cancel.
    ['echo', Boolean(settings.echoCancellation)],
    ['noise', settings.noiseSuppression],
    ['gain', settings.autoGainControl],
  ];
  return done.filter(([, is]) => is).map(([name]) => name);
}

function troubleOf(error: unknown): EarTrouble {
  const name = error instanceof DOMException ? error.name : '';
  if (name === 'NotAllowedError' || name === 'SecurityError') return 'refused';
  if (name === 'NotFoundError' || name === 'OverconstrainedError') return 'none-found';
  return 'unusable';
}
