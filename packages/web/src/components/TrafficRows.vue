<script setup lang="ts">
import { clockText } from '@bright-ferry/core/traffic';
import type { TrafficRow } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { ElInput } from 'element-plus/es/components/input/index.mjs';
import 'element-plus/es/components/input/style/css';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { download } from '../lib/download.ts';
import { rowWindow } from '../lib/rowWindow.ts';

/** Who came where, how often and with what end: all rows, or those of a stretch of time and some words. */
const props = defineProps<{ rows: readonly TrafficRow[] }>();
const span = defineModel<readonly [number, number] | null>('span', { required: true });
const wanted = ref('');
/** Height of a row and of the table, pixels. */
const ROW = 26;
const ROOM = 520;

const inSpan = (row: TrafficRow): boolean => {
  if (!span.value || row.first === null || row.last === null) return true;
  const [from, to] = span.value.map(clockText);
  return row.last >= (from ?? '') && row.first <= (to ?? '');
};
const fits = (row: TrafficRow, words: readonly string[]): boolean => {
  const text = `${row.from} ${row.service} ${row.word} ${row.first ?? ''} ${row.last ?? ''}`.toLowerCase();
  return words.every((w) => text.includes(w));
};
const fitting = computed(() => {
  const words = wanted.value
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  return props.rows.filter((r) => inSpan(r) && fits(r, words));
});

const { shown, above, below, top } = rowWindow(() => fitting.value, ROW, ROOM);
const scroller = useTemplateRef('scroller');
watch(fitting, () => {
  top.value = 0;
  if (scroller.value) scroller.value.scrollTop = 0;
});

function exportRows(): void {
  const cell = (value: string | number | null): string => `"${String(value ?? '').replaceAll('"', '""')}"`;
  const lines = fitting.value.map((r) =>
    [r.from, r.service, r.word, r.count, r.first, r.last, r.at].map(cell).join(','),
  );
  download('traffic.csv', `from,to,became,count,first,last,line\n${lines.join('\n')}\n`, 'text/csv');
}
</script>

<template>
  <div class="sieve">
    <ElInput
      v-model="wanted"
      clearable
      placeholder="address, port, fate or time"
      aria-label="Rows with an address, a port, a fate or a time"
      data-test="sieve"
    />
    <span class="quiet" role="status"
      >{{ fitting.length.toLocaleString('en') }} of {{ props.rows.length.toLocaleString('en') }} rows</span
    >
    <button v-if="span" type="button" class="link" @click="span = null">All times</button>
    <ElButton data-test="export-rows" @click="exportRows">Keep the rows as CSV</ElButton>
  </div>
  <div
    ref="scroller"
    class="scroller"
    tabindex="0"
    role="region"
    aria-label="Rows"
    data-test="rows"
    @scroll="top = scroller?.scrollTop ?? 0"
  >
    <table class="rows" :aria-rowcount="fitting.length + 1">
      <thead>
        <tr>
          <th scope="col">From</th>
          <th scope="col">To</th>
          <th scope="col">What became of it</th>
          <th scope="col" class="number">Packets</th>
          <th scope="col">First</th>
          <th scope="col">Last</th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="above > 0" aria-hidden="true" :style="{ height: `${above}px` }"></tr>
        <tr
          v-for="r in shown"
          :key="`${r.from} ${r.service} ${r.word} ${r.at}`"
          :class="{ own: r.isService || r.isClient }"
        >
          <td class="mono">{{ r.from }}<span v-if="r.isClient" class="quiet"> (the client)</span></td>
          <td class="mono">{{ r.service }}</td>
          <td :class="r.became">{{ r.word }}</td>
          <td class="number">{{ r.count.toLocaleString('en') }}</td>
          <td class="mono">{{ r.first }}</td>
          <td class="mono">{{ r.last }}</td>
        </tr>
        <tr v-if="below > 0" aria-hidden="true" :style="{ height: `${below}px` }"></tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sieve {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  margin-bottom: 10px;
}

.sieve > :first-child {
  width: 280px;
}

.scroller {
  max-width: 1000px;
  max-height: 520px;
  overflow: auto;
}

.rows {
  width: 100%;
  border-collapse: separate;
  border-spacing: 0;
}

thead th {
  position: sticky;
  top: 0;
  background: var(--paper);
}

.rows tbody tr {
  height: 26px;
}

.rows td {
  white-space: nowrap;
}

th {
  text-align: left;
  font-weight: 600;
}

td,
th {
  padding: 2px 14px 2px 0;
  border-bottom: 1px solid var(--line);
}

.number {
  text-align: right;
}

.own {
  background: var(--sheet);
  font-weight: 600;
}

.kept-out,
.refused,
.answer-lost,
.answer-refused,
.not-answered {
  color: var(--shut);
}

.let-in,
.answered {
  color: var(--lit);
}
</style>
