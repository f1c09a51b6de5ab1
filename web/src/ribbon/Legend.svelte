<script lang="ts">
  import { HOP_S, RibbonFrames } from './frames';
  import Reading from './Reading.svelte';
  import SlotView from './SlotView.svelte';

  /** What the ribbon's height, thickness and edge say: a sound drawn as all are, with words on it. */
  const SECONDS = 6;
  const TARGET = 6000;
  const slots = [
    { pitch_cents: 7200, name: '', asked: false },
    { pitch_cents: TARGET, name: '', asked: true },
    { pitch_cents: 4800, name: '', asked: false },
  ];
  const SOFT_DB = -44;
  const LOUD_DB = -14;
  const CLEAR_DB = 30;
  const AIRY_DB = 6;

  /** A note that begins flat, grows, turns airy and falls at its end. */
  function sound(): RibbonFrames {
    const frames = new RibbonFrames();
    const count = Math.round(SECONDS / HOP_S);
    const along = Array.from({ length: count }, (_, i) => i / count);
    frames.put(
      0,
      along.map((at) => TARGET + (at < 0.06 ? -24 * (1 - at / 0.06) : at > 0.94 ? -18 : 2)),
      along.map((at) => SOFT_DB + (LOUD_DB - SOFT_DB) * Math.sin(Math.PI * Math.min(at * 1.4, 1))),
      along.map((at) => (at > 0.66 ? AIRY_DB : CLEAR_DB)),
    );
    return frames;
  }

  const frames = sound();
  const at = (share: number) => Math.round((share * SECONDS) / HOP_S);
  const stretches = [
    {
      from: 0,
      to: null,
      label: '',
      pale: false,
      marks: [
        mark(0.02, -20, 'started flat: below the line', 'low'),
        mark(0.36, 2, 'thick: loud', null),
        mark(0.78, 2, 'frayed: airy', null),
        mark(0.97, -18, 'fell at its end', 'low'),
      ],
    },
  ];

  function mark(share: number, cents: number, words: string, side: 'low' | null) {
    return {
      frame: at(share),
      pitch_cents: TARGET + cents,
      words,
      short: words,
      side,
      weight: 1,
    };
  }
</script>

<div class="picture">
  <SlotView
    {slots}
    limitCents={15}
    {frames}
    {stretches}
    windowS={SECONDS * 1.06}
    fromS={0}
    label="A ribbon that begins flat, grows thick, frays and falls"
  />
</div>
<ul>
  <Reading />
  <li>
    <strong>A gap</strong> is silence between notes; <strong>a hook</strong> at the start is a scoop.
  </li>
  <li>The other bands are the partials next to your note, with the same fingering or position.</li>
</ul>

<style>
  .picture {
    position: relative;
    width: min(46rem, 80vw);
    height: 19rem;
  }

  ul {
    display: grid;
    gap: 0.3rem;
    padding-top: 0.6rem;
    font-size: 1.125rem;
  }
</style>
