import { problemOf, type Problem } from '../api/client';

/**
 * A value that loads: what was asked for last counts, and what comes of an earlier question is
 * dropped. Its problem stands until it is asked for again.
 */
export class Loaded<T> {
  value = $state.raw<T | null>(null);
  problem = $state.raw<Problem | null>(null);
  private asking: AbortController | null = null;

  constructor(private readonly ask: (signal: AbortSignal) => Promise<T>) {}

  /** Asks for it (again); true when it came. */
  async load(): Promise<boolean> {
    this.asking?.abort();
    const asking = (this.asking = new AbortController());
    try {
      const value = await this.ask(asking.signal);
      if (asking.signal.aborted) return false;
      this.value = value;
      this.problem = null;
      return true;
    } catch (error) {
      if (!asking.signal.aborted) this.problem = problemOf(error);
      return false;
    }
  }

  /** Lets go of it; an answer that is still on its way is dropped. */
  leave(): void {
    this.asking?.abort();
    this.value = null;
    this.problem = null;
  }
}
