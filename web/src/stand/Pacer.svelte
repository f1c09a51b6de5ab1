<script lang="ts">
  /** A breath to be paced by: a vessel that fills as the air goes in, low and then to the top, and
   * empties as it goes out. */
  interface Props {
    breath: { words: string; share: number; seconds: number; inward: boolean };
  }

  let { breath }: Props = $props();

  const full = $derived(breath.inward ? breath.share : 1 - breath.share);
  const left = $derived(Math.ceil(breath.seconds * (1 - breath.share)));
</script>

<figure>
  <svg viewBox="0 0 300 220" role="img" aria-label="{breath.words}, {left} more">
    <defs>
      <clipPath id="vessel">
        <path
          d="M128 8h44v34c70 14 108 66 108 112 0 40-50 58-130 58S20 194 20 154c0-46 38-98 108-112z"
        />
      </clipPath>
    </defs>
    <g clip-path="url(#vessel)">
      <rect class="empty" width="300" height="220" />
      <rect class="air" y={212 - 204 * full} width="300" height="220" />
      <path class="stage" d="M0 96H300" />
    </g>
  </svg>
  <figcaption>
    <strong>{left}</strong>
    <span>{breath.inward ? 'in' : 'out'}</span>
  </figcaption>
</figure>

<style>
  figure {
    display: flex;
    align-items: center;
    justify-content: center;
    gap: 2.5rem;
    height: 100%;
    min-height: 14rem;
  }

  svg {
    height: min(100%, 24rem);
    max-width: 60%;
  }

  .empty {
    fill: var(--line);
  }

  .air {
    fill: var(--low);
  }

  .stage {
    stroke: var(--sheet);
    stroke-width: 2;
    stroke-dasharray: 2 8;
  }

  figcaption {
    display: grid;
    font-size: 2rem;
  }

  strong {
    font-family: var(--font-note);
    font-size: 7rem;
    line-height: 1;
    min-width: 1.2em;
  }
</style>
