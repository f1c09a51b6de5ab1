import { push } from 'svelte-spa-router';
import { answer, api, problemWords, sendBody, type Schemas } from '../api/client';
import type { Action } from '../parts/keys.svelte';
import { Loaded } from '../parts/loaded.svelte';

export type Guest = Schemas['GuestOut'];

/** Reports of others that are open here. */
export class Guests {
  readonly all = new Loaded<Guest[]>(() => answer(api.GET('/api/guests')));
  trouble = $state('');

  get list(): Guest[] {
    return this.all.value ?? [];
  }

  /** Opens a report's zip, and shows it. */
  async open(file: File): Promise<void> {
    await this.tell(async () => {
      const guest = await sendBody<Guest>('/api/guests', file);
      void push(`/guests/${guest.id}`);
    });
  }

  async close(guest: Guest): Promise<void> {
    await this.tell(async () => {
      await answer(
        api.DELETE('/api/guests/{guest_id}', { params: { path: { guest_id: guest.id } } }),
      );
      await this.all.load();
    });
  }

  private async tell(call: () => Promise<void>): Promise<void> {
    try {
      await call();
      this.trouble = '';
    } catch (error) {
      this.trouble = problemWords(error);
    }
  }

  /** What the keys do with them; `choose` lets one choose a file. */
  actions(choose: () => void): Action[] {
    const last = this.list[0];
    return [
      { keys: ['o'], shown: 'O', label: 'open a report', run: choose },
      {
        keys: ['g'],
        shown: 'G',
        label: last ? `read ${last.player}'s report` : 'read the report',
        run: () => last && void push(`/guests/${last.id}`),
        disabled: !last,
        quiet: true,
      },
    ];
  }
}
