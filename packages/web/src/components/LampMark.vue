<script setup lang="ts">
import type { StopLamp } from '@bright-ferry/core/views';

/**
 * The state of a stop as a shape: ring with a light, barred square, hatched diamond; a mere line where the
 * packet does not come. Beyond the end the outline is dashed.
 */
defineProps<{ lamp: StopLamp; beyond?: boolean; size?: number }>();
</script>

<template>
  <svg
    :width="size ?? 22"
    :height="size ?? 22"
    viewBox="0 0 22 22"
    aria-hidden="true"
    :class="['lamp', lamp, { beyond }]"
  >
    <template v-if="lamp === 'lit'">
      <circle cx="11" cy="11" r="9" class="body" />
      <circle cx="11" cy="11" r="3.6" class="core" />
    </template>
    <template v-else-if="lamp === 'shut'">
      <rect x="2.5" y="2.5" width="17" height="17" rx="2" class="body" />
      <rect x="5.5" y="9.2" width="11" height="3.6" class="core" />
    </template>
    <path v-else-if="lamp === 'aside'" d="M4 11H18" class="body" />
    <template v-else>
      <path d="M11 1.5 20.5 11 11 20.5 1.5 11Z" class="body" />
      <path d="M6 13.5 13.5 6M8.5 16 16 8.5" class="hatch" />
    </template>
  </svg>
</template>

<style scoped>
.lamp {
  display: block;
  flex: none;
}

.body {
  stroke-width: 2;
}

.beyond .body {
  stroke-dasharray: 3 2.4;
}

.lit .body {
  fill: var(--lit-soft);
  stroke: var(--lit);
}

.lit .core {
  fill: var(--lit);
}

.shut .body {
  fill: var(--shut-soft);
  stroke: var(--shut);
}

.shut .core {
  fill: var(--shut);
}

.fogged .body {
  fill: var(--fog-soft);
  stroke: var(--fog);
}

.aside .body {
  stroke: var(--ink-soft);
}

.hatch {
  stroke: var(--fog);
  stroke-width: 1.6;
}
</style>
