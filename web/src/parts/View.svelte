<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLAttributes } from 'svelte/elements';
  import type { Problem } from '../api/client';
  import Foot from './Foot.svelte';
  import Notice from './Notice.svelte';

  /**
   * A view's frame: its content with the foot below, or what went wrong in place of the content.
   */
  interface Props extends HTMLAttributes<HTMLDivElement> {
    children: Snippet;
    /** Wider margins, for lists and forms. */
    wide?: boolean;
    /** As high as the window: its content scrolls by itself. */
    framed?: boolean;
    problem?: Problem | null;
    /** Tries again what went wrong. */
    retry?: () => void;
    /** Other ways on from a problem. */
    ways?: Snippet;
    lead?: string;
    foot?: Snippet;
  }

  let {
    children,
    wide = false,
    framed = false,
    problem = null,
    retry,
    ways,
    lead = '',
    foot,
    ...rest
  }: Props = $props();
</script>

<div class={['view', wide && 'wide', framed && 'framed']} {...rest}>
  {#if problem}
    <div class="whole">
      <Notice title={problem.title} detail={problem.detail}>
        {#if retry}<button class="act-main" onclick={retry}>Try again</button>{/if}
        {@render ways?.()}
      </Notice>
    </div>
  {:else}
    {@render children()}
  {/if}
  <Foot {lead}>{@render foot?.()}</Foot>
</div>
