<script setup lang="ts">
import type { ReadingView } from '@bright-ferry/core/views';
import { computed, nextTick, ref, shallowRef, watch } from 'vue';
import type { Answers } from '../workers/protocol.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import PointedLine from './PointedLine.vue';
import SourceHead from './SourceHead.vue';
import TableColumns from './TableColumns.vue';
import UnderstoodList from './UnderstoodList.vue';
import { parts, pieces } from '../lib/sourceLines.ts';

/** The original text of a piece of evidence, the line of a fact marked; of long texts the lines around it. */
const AROUND = 400;
const analysis = useAnalysis();
const history = useHistory();
const selection = useSelection();
const body = ref<HTMLElement | null>(null);
const reading = shallowRef<Answers['reading'] | null>(null);
/** The line of the fact that is pointed at. */
const lit = ref<number | null>(null);
/** The unread line that is asked about. */
const saying = ref<number | null>(null);

watch(
  [() => selection.shownSource?.file, () => history.document],
  async ([file]) => (reading.value = file ? await analysis.ask('reading', { file }) : null),
  { immediate: true },
);

const entry = computed(
  () => history.document?.evidence?.find((e) => e.file === selection.shownSource?.file) ?? null,
);

function point(line: number | null): void {
  lit.value = line;
  if (line !== null) body.value?.querySelector(`[data-line="${line}"]`)?.scrollIntoView({ block: 'nearest' });
}

const marksOf = computed(() => {
  const byLine = new Map<number, ReadingView['marks'][number][]>();
  for (const m of reading.value?.marks ?? []) byLine.set(m.line, [...(byLine.get(m.line) ?? []), m]);
  return byLine;
});
const lines = computed(() =>
  selection.shownSource ? history.textOf(selection.shownSource.file).split(/\r\n|\n|\r/) : [],
);
/** Why a line is not understood; of a piece that nobody reads no line is. */
const problemOf = computed(() => {
  const said = reading.value;
  const why = new Map((said?.problems ?? []).map((p) => [p.line, p.why]));
  const unread = said?.unread ?? null;
  if (unread === null) return why;
  return new Map(lines.value.flatMap((t, i) => (t.trim() === '' ? [] : [[i + 1, unread] as const])));
});

const from = computed(() => Math.max(0, (selection.shownSource?.line ?? 1) - 1 - AROUND));
const shown = computed(() => lines.value.slice(from.value, from.value + 2 * AROUND + 1));

watch(
  () => selection.shownSource,
  () => {
    saying.value = null;
    void nextTick(() => {
      body.value?.querySelector('.here')?.scrollIntoView({ block: 'center' });
      body.value?.focus({ preventScroll: true });
    });
  },
  { immediate: true },
);
</script>

<template>
  <section v-if="selection.shownSource" class="source" aria-label="Original text">
    <SourceHead :at="selection.shownSource" :entry="entry" />
    <TableColumns v-if="reading?.shape && entry" :shape="reading.shape" :file="entry.file" />
    <div class="both">
      <div ref="body" class="body mono" tabindex="0" role="document" aria-label="Text of the evidence">
        <div
          v-for="(text, i) in shown"
          :key="from + i"
          class="line"
          :class="{ here: from + i + 1 === selection.shownSource.line, lit: from + i + 1 === lit }"
          :data-line="from + i + 1"
        >
          <span class="number" aria-hidden="true">{{ from + i + 1 }}</span>
          <span v-if="from + i + 1 === selection.shownSource.line" class="text" data-test="marked-line"
            >{{ parts(text, selection.shownSource).before
            }}<mark>{{ parts(text, selection.shownSource).marked }}</mark
            >{{ parts(text, selection.shownSource).after }}</span
          >
          <span v-else class="text" :class="{ strange: problemOf.has(from + i + 1) }"
            ><template v-for="(p, k) in pieces(text, marksOf.get(from + i + 1) ?? [])" :key="k"
              ><span v-if="p.label" class="understood" :title="p.label">{{ p.text }}</span
              ><template v-else>{{ p.text }}</template></template
            ></span
          >
          <button
            v-if="problemOf.has(from + i + 1)"
            type="button"
            class="link say"
            :title="problemOf.get(from + i + 1)"
            :aria-expanded="saying === from + i + 1"
            data-test="say-line"
            @click="saying = saying === from + i + 1 ? null : from + i + 1"
          >
            not understood: say what it is
          </button>
          <PointedLine v-if="saying === from + i + 1" :text="text" @said="saying = null" />
        </div>
      </div>
      <UnderstoodList v-if="reading && reading.marks.length > 0" :marks="reading.marks" @point="point" />
    </div>
  </section>
</template>

<style scoped>
.source {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

.body {
  overflow: auto;
  min-height: 0;
  margin-top: 6px;
  background: var(--sheet);
  border: 1px solid var(--line);
}

.both {
  display: flex;
  gap: 12px;
  flex: 1;
  min-height: 0;
}

.both .body {
  flex: 1;
  min-width: 0;
}

.lit {
  background: var(--lit-soft);
}

.line {
  display: flex;
  gap: 10px;
}

.line:has(.pointed) {
  flex-wrap: wrap;
}

.understood {
  border-bottom: 1px solid var(--lit);
}

.strange {
  border-left: 3px solid var(--shut);
  padding-left: 6px;
}

.say {
  flex: none;
  color: var(--shut);
  margin-left: auto;
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
