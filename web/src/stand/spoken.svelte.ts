import { problemOf, SERVER_GONE } from '../api/client';
import { Ear, EarError } from '../audio/ear';
import { TROUBLES } from '../microphone/trouble';

const LONGEST_S = 60;

/** A short spoken note to oneself at the end of a session. */
export class Spoken {
  recording = $state(false);
  said = $state('');

  private ear: Ear | null = null;
  private chunks: ArrayBuffer[] = [];

  /** Begins to record, or stops and keeps what was said. */
  async toggle(sessionId: string): Promise<void> {
    if (this.recording) return this.keep(sessionId);
    try {
      const ear = (this.ear = await Ear.open());
      this.chunks = [];
      ear.onchunk = (pcm) => {
        this.chunks.push(pcm);
        if (this.chunks.length * 512 >= LONGEST_S * ear.sampleRate) void this.keep(sessionId);
      };
      await ear.useMicrophone();
      this.recording = true;
      this.said = `Say it now, up to ${LONGEST_S} s.`;
    } catch (error) {
      await this.stop();
      this.said = TROUBLES[error instanceof EarError ? error.trouble : 'unusable'].title;
    }
  }

  async stop(): Promise<void> {
    this.recording = false;
    const { ear } = this;
    this.ear = null;
    await ear?.close();
  }

  private async keep(sessionId: string): Promise<void> {
    const rate = this.ear?.sampleRate ?? 48_000;
    const chunks = this.chunks;
    this.chunks = [];
    await this.stop();
    try {
      const sent = await fetch(`/api/sessions/${sessionId}/memo?rate=${rate}`, {
        method: 'POST',
        body: new Blob(chunks),
        headers: { 'Content-Type': 'application/octet-stream' },
      });
      this.said = sent.ok ? 'Kept.' : 'It could not be kept. Say it again.';
    } catch (error) {
      this.said = (error instanceof TypeError ? SERVER_GONE : problemOf(error)).title;
    }
  }
}
