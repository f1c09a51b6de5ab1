import { problemOf } from '../api/client';
import { fetchSound } from '../takes/kept';

/** Plays a take where it is spoken of; asked for again, it stops. */
export class Replay {
  /** The take that sounds. */
  takeId = $state('');
  trouble = $state('');
  private audio: HTMLAudioElement | null = null;
  private url = '';

  async toggle(takeId: string): Promise<void> {
    const again = takeId === this.takeId;
    this.stop();
    if (again) return;
    this.takeId = takeId;
    this.trouble = '';
    try {
      const url = await fetchSound({ kind: 'takes', id: takeId });
      if (this.takeId !== takeId) return URL.revokeObjectURL(url);
      this.url = url;
      this.audio = new Audio(url);
      this.audio.onended = () => this.stop();
      await this.audio.play();
    } catch (error) {
      // Another one was asked for while it began.
      if (this.takeId !== takeId) return;
      this.stop();
      this.trouble = problemOf(error).detail;
    }
  }

  stop(): void {
    this.takeId = '';
    this.audio?.pause();
    this.audio = null;
    if (this.url) URL.revokeObjectURL(this.url);
    this.url = '';
  }
}
