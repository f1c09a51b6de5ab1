import { describe, expect, it, vi } from 'vitest';
import { Opened } from './opened.svelte';

vi.mock('svelte-spa-router', () => ({ push: () => Promise.resolve() }));

const FRAMES = { first: 0, hop_s: 0.01, pitch_cents: [0], level_db: [-20], harmonicity_db: [20] };
const page = (words: string) => ({ words, duration_s: 2, bookmarks: [], frames: FRAMES });

function soundAnswers(ok: boolean) {
  vi.stubGlobal('fetch', () => Promise.resolve(new Response('sound', { status: ok ? 200 : 404 })));
}

describe('what is open', () => {
  it('is what was opened last, whichever comes first', async () => {
    soundAnswers(true);
    let arrive: (late: ReturnType<typeof page>) => void = () => undefined;
    const late = new Promise<ReturnType<typeof page>>((resolve) => (arrive = resolve));
    const opened = new Opened('takes', (id) => (id === 'a' ? late : Promise.resolve(page(id))));
    const first = opened.open('a');
    await opened.open('b');
    arrive(page('a'));
    await first;
    expect(opened.heard?.page.words).toBe('b');
    expect(opened.heard?.listening.kept).toEqual({ kind: 'takes', id: 'b' });
    expect(opened.heard?.listening.soundUrl).toMatch(/^blob:/);
  });

  it('keeps its place when what is kept of it changes, and is gone when closed', async () => {
    soundAnswers(true);
    const opened = new Opened('recordings', (id) => Promise.resolve(page(id)));
    await opened.open('a');
    const listening = opened.heard?.listening;
    opened.put(page('better'));
    expect(opened.heard?.page.words).toBe('better');
    expect(opened.heard?.listening).toBe(listening);
    opened.close();
    expect(opened.heard).toBeNull();
    expect(listening?.soundUrl).toBe('');
  });

  it('asks for no sound where only what was measured is kept', async () => {
    soundAnswers(false);
    const opened = new Opened('takes', (id) => Promise.resolve({ ...page(id), has_sound: false }));
    await opened.open('a');
    expect(opened.problem).toBeNull();
    expect(opened.heard?.page.words).toBe('a');
    expect(opened.heard?.listening.soundUrl).toBe('');
  });

  it('says that its sound is not there, until it is opened again', async () => {
    soundAnswers(false);
    const opened = new Opened('takes', (id) => Promise.resolve(page(id)));
    await opened.open('a');
    expect(opened.problem).not.toBeNull();
    soundAnswers(true);
    await opened.open('a');
    expect(opened.problem).toBeNull();
  });
});
