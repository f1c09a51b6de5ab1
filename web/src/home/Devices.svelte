<script lang="ts">
  import { onDestroy } from 'svelte';
  import { push } from 'svelte-spa-router';
  import { answer, api, problemWords, type Schemas } from '../api/client';
  import { fullDay } from '../parts/dates';
  import Dialog from '../parts/Dialog.svelte';
  import Form from '../parts/Form.svelte';
  import Key from '../parts/Key.svelte';
  import { offer } from '../parts/keys.svelte';
  import { Loaded } from '../parts/loaded.svelte';
  import View from '../parts/View.svelte';
  import Qr from './Qr.svelte';
  import Trust from './Trust.svelte';

  type Device = Schemas['DeviceOut'];

  /** A code that somebody types is seen to be used within so long. */
  const LOOKED_AT_EVERY_MS = 1000;

  const home = new Loaded<Schemas['HomeOut']>((signal) => answer(api.GET('/api/home', { signal })));
  void home.load();

  let said = $state('');
  let leaving = $state.raw<Device | null>(null);
  let changing = $state<Device | null>(null);
  let trusting = $state(false);
  const found = $derived(home.value);
  const code = $derived(found?.code ?? null);

  const looking = setInterval(() => {
    if (found?.is_open && !found.me) void home.load();
  }, LOOKED_AT_EVERY_MS);
  onDestroy(() => clearInterval(looking));

  /** Does something, then shows how it stands. */
  async function act(doing: Promise<unknown>) {
    said = '';
    try {
      await doing;
    } catch (error) {
      said = problemWords(error);
    }
    await home.load();
  }

  const serve = () => void act(answer(api.POST('/api/home/open')));
  const serveNoMore = () => void act(answer(api.POST('/api/home/close')));
  const pair = (may_play: boolean) =>
    void act(answer(api.POST('/api/home/code', { body: { may_play } })));
  const hide = () => void act(answer(api.DELETE('/api/home/code')));

  function change() {
    if (!changing) return;
    const { id, name, may_play } = changing;
    changing = null;
    const params = { path: { device_id: id } };
    const body = { name: name.trim(), may_play };
    void act(answer(api.PUT('/api/home/devices/{device_id}', { params, body })));
  }

  function forget({ id }: Device) {
    leaving = null;
    const params = { path: { device_id: id } };
    void act(answer(api.DELETE('/api/home/devices/{device_id}', { params })));
  }

  function ask(device: Device) {
    leaving = device;
  }

  offer(() => [
    ...(found === null || found.me
      ? []
      : found.is_open
        ? [
            {
              keys: [' '],
              shown: 'Space',
              label: code ? 'hide the code' : 'pair a device',
              run: () => (code ? hide() : pair(true)),
              disabled: found.waits_s > 0,
            },
            {
              keys: ['l'],
              shown: 'L',
              label: 'pair a device that only looks',
              run: () => pair(false),
              disabled: code !== null || found.waits_s > 0,
              quiet: true,
            },
            {
              keys: ['c'],
              shown: 'C',
              label: 'the certificate',
              run: () => (trusting = true),
            },
            { keys: ['x'], shown: 'X', label: 'only this computer', run: serveNoMore },
          ]
        : [{ keys: [' '], shown: 'Space', label: 'let phones and tablets in', run: serve }]),
    { keys: ['Escape'], shown: 'Esc', label: 'back', run: () => void push('/players') },
  ]);
</script>

<View wide problem={home.problem} retry={() => void home.load()}>
  {#if found?.me}
    <h1>This device is paired</h1>
    <div class="told">
      <p class="lead">
        The computer calls it “{found.me.name}”. It {found.me.may_play
          ? 'may play: listen, change and keep.'
          : 'may only look. Allow it to play under Phones and tablets on the computer.'}
      </p>
      <p class="dim lead">Other devices are paired and forgotten on the computer.</p>
    </div>
  {:else if found && !found.is_open}
    <h1>Phones and tablets</h1>
    <div class="told">
      <p class="lead">
        Put a tablet on the music stand, or a phone beside it: it can listen in place of this
        computer, or show the note large while the computer listens.
      </p>
      <p class="lead dim">
        Now only this computer can use Orexis. When you let phones and tablets in, those in your own
        network can reach it, over an encrypted connection, and only those that you pair with a
        code. Everything stays on this computer.
      </p>
      {#if said}<p role="alert">{said}</p>{/if}
      <p><button class="act-main" onclick={serve}><Key shown="Space" />Let them in</button></p>
    </div>
  {:else if found}
    <h1>{code ? 'Type this code on the device' : 'Phones and tablets'}</h1>
    {#if said}<p role="alert">{said}</p>{/if}
    <div class="content">
      <section aria-label="Pairing">
        {#if code}
          <p class="code" aria-label="The code: {code.digits.split('').join(' ')}">
            {code.digits.slice(0, 3)}&thinsp;{code.digits.slice(3)}
          </p>
          <p role="timer" class="dim">
            It holds for {Math.ceil(code.left_s)} s more, for one device that
            {code.may_play ? 'may play' : 'may only look'}.
          </p>
          <button class="act" onclick={hide}><Key shown="Space" />hide the code</button>
        {:else if found.waits_s > 0}
          <p>
            Too many codes were wrong, so nothing is paired for {Math.ceil(found.waits_s)} s. If nobody
            here typed them, somebody else in this network did.
          </p>
        {:else}
          <ol>
            <li>Open the address on the device: scan it, or type it in.</li>
            <li>
              The browser warns once. <button
                class="act underlined"
                onclick={() => (trusting = true)}>Trusting the certificate<Key shown="C" /></button
              >
            </li>
            <li>
              <button class="act-main" onclick={() => pair(true)}
                ><Key shown="Space" />Pair a device</button
              >
              <button class="act" onclick={() => pair(false)}
                ><Key shown="L" />one that only looks</button
              >
            </li>
          </ol>
        {/if}
        <h2>Devices</h2>
        <ul>
          {#each found.devices as device (device.id)}
            <li>
              <strong>{device.name}</strong>
              <span class="dim">last seen {fullDay(new Date(device.last_seen_at))}</span>
              <button
                class="act"
                aria-label="Change {device.name}"
                onclick={() => (changing = { ...device })}
              >
                {device.may_play ? 'may play' : 'may only look'}
              </button>
              <button class="act" aria-label="Forget {device.name}" onclick={() => ask(device)}
                >forget…</button
              >
            </li>
          {:else}
            <li class="dim">None is paired yet.</li>
          {/each}
        </ul>
        <p>
          <button class="act" onclick={serveNoMore}
            ><Key shown="X" />only this computer again</button
          >
        </p>
      </section>
      <section class="addresses" aria-label="Addresses">
        {#each found.addresses as { url, qr } (url)}
          <Qr rows={qr} label="QR code of {url}" />
          <p><strong class="url">{url}</strong></p>
        {/each}
        <p class="dim">The device has to be in the same network as this computer.</p>
      </section>
    </div>
  {/if}
</View>

<Dialog bind:open={trusting} title="Trusting the certificate">
  <Trust fingerprint={found?.fingerprint} />
</Dialog>

<Dialog
  bind:open={() => leaving !== null, (open) => (leaving = open ? leaving : null)}
  title="Forget {leaving?.name ?? ''}?"
>
  {#if leaving}
    {@const device = leaving}
    <p>It stops at once, whatever it is doing, and has to be paired again.</p>
    <button class="act-main" onclick={() => forget(device)}>Forget it<Key shown="Enter" /></button>
  {/if}
</Dialog>

<Dialog
  bind:open={() => changing !== null, (open) => (changing = open ? changing : null)}
  title="Change a device"
>
  {#if changing}
    <Form label="Change a device" keep={change}>
      <label>
        <span>What it is called</span>
        <input class="input" bind:value={changing.name} maxlength="40" required />
      </label>
      <label>
        <span>What it may do</span>
        <select class="select" bind:value={changing.may_play}>
          <option value={true}>play: listen, change and keep</option>
          <option value={false}>only look</option>
        </select>
      </label>
    </Form>
  {/if}
</Dialog>

<style>
  h1 {
    font-size: clamp(2.2rem, 4.4vw, 3.4rem);
    padding-block: 1.2rem 0.6rem;
  }

  h2 {
    font-size: 1.5rem;
    padding-block: 1.6rem 0.3rem;
  }

  .lead {
    max-width: 42rem;
    font-size: 1.25rem;
    padding-bottom: 0.9rem;
  }

  .told {
    flex: 1;
  }

  .content {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr);
    gap: 2.4rem;
    align-items: start;
  }

  .code {
    font-family: var(--font-note);
    font-weight: 700;
    font-size: clamp(4rem, 10.5vw, 8.5rem);
    white-space: nowrap;
    line-height: 1.1;
    letter-spacing: 0.06em;
    color: var(--asked);
  }

  ol {
    display: grid;
    gap: 0.8rem;
    list-style: decimal;
    padding-left: 1.4rem;
    font-size: 1.15rem;
  }

  ul li {
    display: grid;
    grid-template-columns: minmax(6rem, 1fr) auto auto auto;
    align-items: center;
    gap: 0.3rem 1.2rem;
    min-height: 3rem;
    border-top: 1px solid var(--line);
  }

  .addresses {
    display: grid;
    gap: 0.4rem;
  }

  .url {
    font-size: 1.25rem;
    overflow-wrap: anywhere;
  }

  @media (max-width: 760px) {
    .content {
      grid-template-columns: minmax(0, 1fr);
      gap: 1rem;
    }

    ul li {
      grid-template-columns: 1fr auto;
    }
  }
</style>
