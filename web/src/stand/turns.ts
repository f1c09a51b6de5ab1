import { answer } from '../api/client';
import type { Hearing } from '../audio/hearing';
import type { SessionLine, SessionTold } from '../audio/line';
import { queryOf, type Skill } from './standin';

const BREATH_S = 0.9;

/** Lets the stand-in player play a whole session, turn by turn. */
export class StandInTurns {
  /** Its sound is on the way: a quick clock waits for it, as a player is there before the beat. */
  fetching = false;

  /** Where the turn that it played last could be played from. */
  private playedFrom: number | null = null;

  /** Forgets what was played, for another session. */
  begin(): void {
    this.playedFrom = null;
  }

  /** Plays what a session asks for, from when it listens; `readyFrom` says from when it does now. */
  async play(
    { now }: SessionTold,
    session: SessionLine,
    ear: Hearing,
    skill: Skill,
    readyFrom: () => number | undefined,
  ): Promise<void> {
    if (now.paused || now.ended) ear.hush();
    const ready = now.stretches.find(({ phase }) => phase === 'ready');
    // What is told again after a break has been played already, or is sounding.
    if (!ready || now.ended || now.paused || this.playedFrom === ready.start) return;
    this.playedFrom = ready.start;
    this.fetching = true;
    try {
      const response = fetch(`/api/sessions/${session.session}/stand-in?${queryOf(skill)}`);
      const sound = await answer(
        response.then(async (got) => ({ data: await got.arrayBuffer(), response: got })),
      );
      if (readyFrom() !== ready.start) return;
      const breath = now.beats.length ? 0 : BREATH_S * ear.sampleRate;
      void ear.play(sound, session.onClock(ready.start) + breath);
    } catch (error) {
      // It was not played: once the server is back and tells where it is, it is.
      if (this.playedFrom === ready.start) this.playedFrom = null;
      throw error;
    } finally {
      this.fetching = false;
    }
  }
}
