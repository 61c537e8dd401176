<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue';
import { useBench } from '../stores/bench.ts';

/** The original text of a piece of evidence with the line of a fact marked. Long texts show the lines around it. */
const AROUND = 400;
/** Lines of one-line listings are shown from here on, characters. */
const WIDEST = 4000;
const bench = useBench();
const body = ref<HTMLElement | null>(null);

const lines = computed(() => (bench.shownSource ? bench.textOf(bench.shownSource.file).split(/\r\n|\n|\r/) : []));
const from = computed(() => Math.max(0, (bench.shownSource?.line ?? 1) - 1 - AROUND));
const shown = computed(() => lines.value.slice(from.value, from.value + 2 * AROUND + 1));

interface Parts {
  readonly before: string;
  readonly marked: string;
  readonly after: string;
}

function parts(text: string): Parts {
  const { column, endColumn } = bench.shownSource ?? {};
  if (column === undefined || endColumn === undefined) return { before: '', marked: text.slice(0, WIDEST), after: text.length > WIDEST ? ' …' : '' };
  const start = Math.max(0, column - 200);
  return { before: (start > 0 ? '… ' : '') + text.slice(start, column), marked: text.slice(column, endColumn), after: text.slice(endColumn, endColumn + WIDEST) };
}

watch(() => bench.shownSource, () => void nextTick(() => {
  body.value?.querySelector('.here')?.scrollIntoView({ block: 'center' });
  body.value?.focus({ preventScroll: true });
}), { immediate: true });
</script>

<template>
  <section v-if="bench.shownSource" class="source" aria-label="Original text">
    <header>
      <h2 class="mono">{{ bench.shownSource.file }}</h2>
      <button type="button" class="link" data-test="close-source" @click="bench.shownSource = null">back to the stop <kbd>Esc</kbd></button>
    </header>
    <div ref="body" class="body mono" tabindex="0" role="document" aria-label="Text of the evidence">
      <div v-for="(text, i) in shown" :key="from + i" class="line" :class="{ here: from + i + 1 === bench.shownSource.line }">
        <span class="number" aria-hidden="true">{{ from + i + 1 }}</span>
        <span v-if="from + i + 1 === bench.shownSource.line" class="text" data-test="marked-line">{{ parts(text).before }}<mark>{{ parts(text).marked }}</mark>{{ parts(text).after }}</span>
        <span v-else class="text">{{ text.slice(0, WIDEST) }}</span>
      </div>
    </div>
  </section>
</template>

<style scoped>
.source {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

header {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

h2 {
  font-weight: 600;
  overflow-wrap: anywhere;
}

.body {
  overflow: auto;
  min-height: 0;
  margin-top: 6px;
  background: var(--sheet);
  border: 1px solid var(--line);
}

.line {
  display: flex;
  gap: 10px;
}

.here {
  background: var(--now);
}

.number {
  flex: none;
  width: 44px;
  text-align: right;
  color: var(--ink-soft);
  user-select: none;
}

.text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}

mark {
  background: var(--ferry);
  color: var(--ferry-ink);
}
</style>
