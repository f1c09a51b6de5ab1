import { answer, problemOf, type Schemas } from '../api/client';
import { Ear, EarError } from '../audio/ear';
import { keepLatency } from './sessions';
import { TROUBLES } from '../microphone/trouble';

const LEAD_S = 0.3;

/** Measures the round trip of a sound on this device: clicks out, and heard again. */
export class RoundTrip {
  running = $state(false);
  measured = $state(false);
  headline = $state('How late does your microphone hear?');
  detail = $state(
    'Ten clicks come out of the loudspeaker, and the microphone hears them: about 10 s. Turn the ' +
      'loudspeaker up, take headphones off, and be still. Onsets are told against the beat only ' +
      'once this is known.',
  );

  private ear: Ear | null = null;

  constructor(private readonly inputId: string) {}

  async run(): Promise<void> {
    if (this.running) return;
    this.running = true;
    this.headline = 'Listening to the clicks…';
    try {
      const { seconds, words } = await this.measure();
      keepLatency(this.inputId, seconds);
      this.measured = true;
      this.headline = `${(1000 * seconds).toFixed(0)} ms there and back.`;
      this.detail = words;
    } catch (error) {
      const problem = error instanceof EarError ? TROUBLES[error.trouble] : problemOf(error);
      this.headline = problem.title;
      this.detail = problem.detail;
    } finally {
      await this.stop();
    }
  }

  async stop(): Promise<void> {
    const { ear } = this;
    this.ear = null;
    this.running = false;
    await ear?.close();
  }

  private async measure(): Promise<Schemas['LatencyOut']> {
    const ear = (this.ear = await Ear.open());
    await ear.useMicrophone(this.inputId || undefined);
    const rate = ear.sampleRate;
    const file = await (await fetch(`/api/latency?rate=${rate}`)).arrayBuffer();
    const lasts = (file.byteLength - 44) / 2;
    const heard: { pcm: Int16Array; first: number }[] = [];
    ear.onchunk = (pcm, first) => heard.push({ pcm: new Int16Array(pcm), first });
    const start = await ear.playToRoom(file, LEAD_S);
    await until(() => (heard.at(-1)?.first ?? 0) >= start + lasts);
    const recorded = new Int16Array(lasts);
    for (const { pcm, first } of heard) {
      for (let i = 0; i < pcm.length; i++) {
        const at = first + i - start;
        if (at >= 0 && at < lasts) recorded[at] = pcm[i] ?? 0;
      }
    }
    const sent = fetch(`/api/latency?rate=${rate}`, {
      method: 'POST',
      body: recorded,
      headers: { 'Content-Type': 'application/octet-stream' },
    });
    return answer(
      sent.then(async (response) => {
        const said: unknown = await response.json();
        return response.ok
          ? { data: said as Schemas['LatencyOut'], response }
          : { error: said, response };
      }),
    );
  }
}

async function until(done: () => boolean): Promise<void> {
  while (!done()) await new Promise((go) => setTimeout(go, 50));
}
