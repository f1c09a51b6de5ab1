import { answer, api, type Fields } from './client';

/** What can be set, as the server says it once for the whole page. */
class Known {
  private all = $state.raw<Fields | null>(null);

  /** Fetches them. Throws `ProblemError`. */
  async load(): Promise<void> {
    this.all ??= await answer(api.GET('/api/fields'));
  }

  /** The fields; views are only shown when they are there. */
  get fields(): Fields {
    if (!this.all) throw new Error('The fields have not been loaded.');
    return this.all;
  }
}

export const known = new Known();
