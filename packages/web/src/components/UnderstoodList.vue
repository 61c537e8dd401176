<script setup lang="ts">
import type { ReadingView } from '@bright-ferry/core/views';
import { computed } from 'vue';
import { useSelection } from '../stores/selection.ts';

/** What was understood of a text, beside it: each entry points at its place. */
type Mark = ReadingView['marks'][number];
const MOST_LISTED = 400;
const props = defineProps<{ marks: readonly Mark[] }>();
const emit = defineEmits<{ point: [line: number | null] }>();
const selection = useSelection();
const listed = computed(() => props.marks.slice(0, MOST_LISTED));

function show({ line, column, endColumn }: Mark): void {
  if (!selection.shownSource) return;
  selection.shownSource = {
    file: selection.shownSource.file,
    line,
    ...(column === null ? {} : { column }),
    ...(endColumn === null ? {} : { endColumn }),
  };
}
</script>

<template>
  <ul class="facts" aria-label="What was understood" data-test="understood">
    <li v-for="(m, i) in listed" :key="i">
      <button
        type="button"
        class="fact"
        @mouseenter="emit('point', m.line)"
        @mouseleave="emit('point', null)"
        @focus="emit('point', m.line)"
        @blur="emit('point', null)"
        @click="show(m)"
      >
        <span class="quiet">{{ m.label }}</span> <span class="mono">{{ m.value }}</span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.facts {
  flex: none;
  width: min(300px, 38%);
  margin-top: 6px;
  padding: 0;
  list-style: none;
  overflow: auto;
}

.fact {
  display: block;
  width: 100%;
  padding: 2px 6px;
  background: none;
  border: 0;
  border-left: 2px solid var(--lit);
  font: inherit;
  color: inherit;
  text-align: left;
  overflow-wrap: anywhere;
  cursor: pointer;
}

.fact:hover,
.fact:focus-visible {
  background: var(--lit-soft);
}
</style>
