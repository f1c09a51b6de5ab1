import { problemWords } from '../api/client';
import { InTurn } from './inturn';
import { Loaded } from './loaded.svelte';

/** A list of things by key, one of them chosen, that every change answers with anew. */
export class Listed<T extends { key: string }> {
  readonly all: Loaded<T[]>;
  at = $state(0);
  refused = $state('');
  private readonly turns = new InTurn();

  constructor(load: () => Promise<T[]>) {
    this.all = new Loaded(load);
    void this.all.load();
  }

  get list(): T[] {
    return this.all.value ?? [];
  }

  get now(): T | undefined {
    return this.list[this.at];
  }

  go(by: number): void {
    this.at = Math.min(Math.max(this.at + by, 0), Math.max(this.list.length - 1, 0));
  }

  /** A change; what was chosen stays chosen, wherever it stands then. */
  take(ask: () => Promise<T[]>): void {
    void this.turns.run(async () => {
      const key = this.now?.key;
      try {
        this.all.value = await ask();
        this.refused = '';
        this.at = Math.max(
          this.list.findIndex((one) => one.key === key),
          0,
        );
      } catch (error) {
        this.refused = problemWords(error);
      }
    });
  }
}
