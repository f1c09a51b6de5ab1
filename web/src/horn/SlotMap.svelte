<script lang="ts">
  import type { Between, Horn, HornNote } from '../api/client';
  import { columnsOf, FOOT, groupsOf, lengthsShown, rowHeight, type Column } from './layout';

  /** The horn's slots where they really sound: lengths across, pitch up. */
  interface Props {
    horn: Horn;
    note: HornNote;
    place: number;
    from: HornNote | null;
    between: Between | null;
    all: boolean;
    onchoose: (midi: number, length: string) => void;
  }

  let { horn, note, place, from, between, all, onchoose }: Props = $props();

  /** Room for what stands beside the last column. */
  const MARGIN = 34;

  let width = $state(0);
  let height = $state(0);
  let scroller = $state<HTMLDivElement>();

  const columns = $derived(columnsOf(lengthsShown(horn, all), width - MARGIN));
  const groups = $derived(groupsOf(columns));
  const mapWidth = $derived(columns.reduce((sum, { width }) => sum + width, MARGIN));
  const row = $derived(rowHeight(height - FOOT));
  const top = $derived((horn.notes.at(-1)?.midi ?? 0) + 3);
  const bottom = $derived((horn.notes[0]?.midi ?? 0) - 2);
  const open = $derived(height - FOOT);
  const y = (pitch: number) => (top - pitch) * row;
  const wholeHeight = $derived(y(bottom));

  /** The part in view follows the note (and the one it goes from), and stops at the ends. */
  const shift = $derived.by(() => {
    const middle = from ? (note.midi + from.midi) / 2 : note.midi;
    const normal = (horn.normal_low + horn.normal_high) / 2;
    const reach = open / row / 2 - 5;
    const wish = Math.max(middle - reach, Math.min(middle + reach, normal));
    return Math.max(0, Math.min(Math.max(0, wholeHeight - open), y(wish) - open / 2));
  });

  const place_of = $derived(new Map(columns.map((column) => [column.length.name, column])));
  const centre = (column: Column) => column.x + column.width / 2;
  const dash = (column: Column) => Math.min(60, column.width * 0.64);
  const named = $derived(
    horn.notes.filter(({ midi, name }) => midi === note.midi || !/[♭♯]/.test(name)),
  );

  interface Lit {
    column: Column;
    pitch: number;
    words: string;
    usable: boolean;
    chosen: boolean;
  }

  function litWays(of: HornNote, chosen: number): Lit[] {
    return of.ways.flatMap((way, i) => {
      const column = place_of.get(way.length);
      const slot = column?.length.slots[way.partial - 1];
      const whole = Math.round(way.expected_cents);
      const words = whole === 0 ? '0' : whole > 0 ? `+${whole}` : `−${-whole}`;
      return column && slot
        ? [{ column, pitch: slot.pitch, words, usable: way.usable, chosen: i === chosen }]
        : [];
    });
  }

  const lit = $derived(litWays(note, place));
  const litFrom = $derived(from ? litWays(from, -1) : []);

  function spot(length: string, partial: number) {
    const column = place_of.get(length);
    const slot = column?.length.slots[partial - 1];
    return column && slot ? { x: centre(column), y: y(slot.pitch) } : null;
  }

  const drawn = (legs: ReturnType<typeof spot>[]) => {
    const points = legs.filter((leg) => leg !== null);
    return points.length > 1 ? `M${points.map((p) => `${p.x} ${p.y}`).join('L')}` : '';
  };

  /** The slur: along one length, or by the smallest change of length. */
  const slurPath = $derived.by(() => {
    const same = between?.slur.same_length[0];
    if (same) return drawn(same.partials.map((partial) => spot(same.length, partial)));
    const change = between?.slur.nearest[0];
    return change
      ? drawn([
          spot(change.start.length, change.start.partial),
          spot(change.end.length, change.end.partial),
        ])
      : '';
  });

  /** The glide, or the climb by half steps when no single one goes so far. */
  const glidePaths = $derived.by(() => {
    const plan = between?.glide?.possible ? between.glide : between?.climb;
    return (plan?.route ?? []).map((leg) =>
      drawn([spot(leg.from.length, leg.partial), spot(leg.to.length, leg.partial)]),
    );
  });
  const inTheWay = $derived.by(() => {
    const same = between?.slur.same_length[0];
    const column = same && place_of.get(same.length);
    return column ? same.between.map((slot) => ({ column, slot })) : [];
  });

  const label = $derived(
    `${note.name}: ${note.ways.map((way) => `${way.fingers}, ${way.slot}, ${way.off}`).join('; ')}`,
  );

  function press(event: PointerEvent & { currentTarget: SVGElement }) {
    const box = event.currentTarget.getBoundingClientRect();
    const column = columns.find(({ x, width }) => {
      const at = event.clientX - box.left;
      return at >= x && at < x + width;
    });
    const pitch = top - (event.clientY - box.top + shift) / row;
    if (!column || event.clientY - box.top > open) return;
    const midi = Math.round(pitch);
    const near = column.length.slots
      .map((slot) => slot.pitch)
      .sort((a, b) => Math.abs(a - pitch) - Math.abs(b - pitch))[0];
    onchoose(
      near !== undefined && Math.abs(near - pitch) < 1.2 ? Math.round(near) : midi,
      column.length.name,
    );
  }

  // On a narrow screen the columns scroll; the one in hand stays in view.
  $effect(() => {
    const way = note.ways[place];
    const column = way && place_of.get(way.length);
    if (!scroller || !column) return;
    const left = column.x - scroller.clientWidth / 2 + column.width / 2;
    scroller.scrollTo({ left, behavior: 'instant' });
  });
</script>

<div class="map" role="img" aria-label={label}>
  <svg class="names" width="58" {height} aria-hidden="true">
    <g style:transform="translateY({-shift}px)" clip-path="none">
      {#each named as { midi, name, begins_octave } (midi)}
        <text x="50" y={y(midi) + 5} class:now={midi === note.midi} class:ut={begins_octave}>
          {name}
        </text>
      {/each}
    </g>
    <rect y={open} width="58" height={FOOT} class="ground" />
  </svg>
  <!-- Measured here, since the drawing inside may be wider and scroll. -->
  <div class="scroller" bind:this={scroller} bind:clientWidth={width} bind:clientHeight={height}>
    <!-- Pointing is a short cut: the arrow keys choose every note and way. -->
    <svg width={Math.max(mapWidth, width)} {height} aria-hidden="true" onpointerdown={press}>
      <g style:transform="translateY({-shift}px)">
        {#each horn.notes as { midi } (midi)}
          <line class="even" x2={Math.max(mapWidth, width)} y1={y(midi)} y2={y(midi)} />
        {/each}
        {#if from}
          <rect
            class="band from"
            y={y(from.midi) - row / 2}
            width={Math.max(mapWidth, width)}
            height={row}
          />
        {/if}
        <rect
          class="band"
          y={y(note.midi) - row / 2}
          width={Math.max(mapWidth, width)}
          height={row}
        />
        {#each columns as column (column.length.name)}
          {#each column.length.slots as slot (slot.partial)}
            {#if slot.pitch < top && slot.pitch > bottom}
              <rect
                class="slot"
                x={centre(column) - dash(column) / 2}
                y={y(slot.pitch) - 2}
                width={dash(column)}
                height="4"
              />
            {/if}
          {/each}
        {/each}
        {#if columns[0] && columns[0].width >= 76}
          {#each columns[0].length.slots as slot (slot.partial)}
            <text class="number" x={columns[0].x + columns[0].width - 6} y={y(slot.pitch) + 4}>
              {slot.partial === 1 ? 'pedal' : slot.partial}
            </text>
          {/each}
        {/if}
        {#if slurPath}<path class="way" d={slurPath} />{/if}
        {#each glidePaths as path (path)}<path class="way glide" d={path} />{/each}
        {#each inTheWay as { column, slot } (slot.partial)}
          <rect
            class="between"
            x={centre(column) - dash(column) / 2}
            y={y(slot.pitch) - 4}
            width={dash(column)}
            height="8"
          />
          <text
            class="between-name"
            x={centre(column) + dash(column) / 2 + 5}
            y={y(slot.pitch) + 5}
          >
            {slot.name}
          </text>
        {/each}
        {#each litFrom as way (way.column.length.name + way.pitch)}
          <rect
            class={['lit', 'start', !way.usable && 'unusable']}
            x={centre(way.column) - dash(way.column) / 2}
            y={y(way.pitch) - 4}
            width={dash(way.column)}
            height="8"
          />
        {/each}
        {#each lit as way (way.column.length.name + way.pitch)}
          <rect
            class={['lit', !way.usable && 'unusable', way.chosen && 'chosen']}
            x={centre(way.column) - dash(way.column) / 2 - (way.chosen ? 2 : 0)}
            y={y(way.pitch) - (way.chosen ? 6 : 4)}
            width={dash(way.column) + (way.chosen ? 4 : 0)}
            height={way.chosen ? 12 : 8}
          />
          <text
            class="off"
            class:beside={way.column.width >= 88}
            x={way.column.width >= 88
              ? centre(way.column) + dash(way.column) / 2 + 5
              : centre(way.column)}
            y={way.column.width >= 88 ? y(way.pitch) + 5 : y(way.pitch) - 9}>{way.words}</text
          >
        {/each}
      </g>
      <rect y={open} width={Math.max(mapWidth, width)} height={FOOT} class="ground" />
      <line class="floor" x2={Math.max(mapWidth, width)} y1={open} y2={open} />
      {#each columns as column (column.length.name)}
        {@const inHand = note.ways[place]?.length === column.length.name}
        {#if column.length.position !== null}
          <text class="length" class:in-hand={inHand} x={centre(column)} y={open + 22}>
            {column.length.position}
          </text>
        {:else if column.width >= 64}
          <text class="length" class:in-hand={inHand} x={centre(column)} y={open + 22}>
            {column.length.valves.join(' ') || 'open'}
          </text>
        {:else if column.length.valves.length === 0}
          <text class="length" class:in-hand={inHand} x={centre(column)} y={open + 18}>0</text>
        {:else}
          {#each column.length.valves as valve (valve)}
            <text
              class="length small"
              class:in-hand={inHand}
              x={centre(column)}
              y={open + 3 + 13 * valve}
            >
              {valve}
            </text>
          {/each}
        {/if}
      {/each}
      {#each groups as group (group.x)}
        {#if group.name}
          <line
            class="bracket"
            x1={group.x + 6}
            x2={group.x + group.width - 6}
            y1={open + 50}
            y2={open + 50}
          />
          <text class="group" x={group.x + group.width / 2} y={open + 68}>
            {group.name === 'thumb' ? 'thumb: B♭ side' : group.name}
          </text>
        {/if}
      {/each}
    </svg>
  </div>
</div>

<style>
  .map {
    position: absolute;
    inset: 0;
    display: grid;
    grid-template-columns: 58px minmax(0, 1fr);
    overflow: hidden;
  }

  .scroller {
    overflow-x: auto;
    overflow-y: hidden;
    min-width: 0;
  }

  svg {
    display: block;
    overflow: hidden;
  }

  g {
    transition: transform 180ms ease-out;
  }

  .ground {
    fill: var(--paper);
  }

  .floor {
    stroke: var(--line);
  }

  .even {
    stroke: var(--line);
    stroke-width: 1;
  }

  .band {
    fill: var(--asked-tint);
  }

  .band.from {
    opacity: 0.55;
  }

  .slot {
    fill: var(--dim);
    opacity: 0.75;
  }

  .lit {
    fill: var(--sound);
  }

  .lit.start {
    fill: var(--asked);
  }

  .lit.unusable {
    fill: var(--paper);
    stroke: var(--sound);
    stroke-width: 1.5;
  }

  .lit.start.unusable {
    stroke: var(--asked);
  }

  .between {
    fill: var(--high);
  }

  .way {
    fill: none;
    stroke: var(--asked);
    stroke-width: 3;
    stroke-linejoin: round;
  }

  .way.glide {
    stroke: var(--sound);
    stroke-width: 6;
    stroke-linecap: round;
    opacity: 0.75;
  }

  text {
    font-family: var(--font-text);
    font-size: 14px;
    fill: var(--dim);
  }

  .names text {
    text-anchor: end;
  }

  .names .ut {
    fill: var(--ink);
  }

  .names .now {
    fill: var(--ink);
    font-family: var(--font-note);
    font-weight: 700;
    font-size: 19px;
  }

  .number {
    text-anchor: end;
    font-size: 12px;
  }

  .off {
    fill: var(--ink);
    font-weight: 700;
    font-size: 13px;
    text-anchor: middle;
  }

  .off.beside {
    text-anchor: start;
    font-size: 15px;
  }

  .between-name {
    fill: var(--high);
    font-weight: 700;
  }

  .length {
    text-anchor: middle;
    font-size: 18px;
    fill: var(--ink);
  }

  .length.small {
    font-size: 14px;
  }

  .in-hand {
    font-weight: 700;
    fill: var(--asked);
  }

  .group {
    text-anchor: middle;
    font-weight: 700;
  }

  .bracket {
    stroke: var(--dim);
  }
</style>
