<script setup lang="ts">
import type { VantageCell, VantageGrid } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { ref, shallowRef, watch } from 'vue';
import { ageText } from '../lib/age.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';
import LampMark from './LampMark.vue';

/** Who tries from where: what is worked out for each place, and what was seen from there. */
const analysis = useAnalysis();
const edits = useEdits();
const history = useHistory();
const selection = useSelection();
const grid = shallowRef<VantageGrid | null>(null);
/** The cell whose outcome is being said. */
const asked = ref('');
watch(
  () => history.document,
  async () => (grid.value = await analysis.ask('vantages', {})),
  { immediate: true },
);

const WORDS = { lit: 'would be answered', shut: 'would not get through', fogged: 'not known' } as const;
const OUTCOMES = [
  { key: 'answered', outcome: 'answered', other: false, label: 'works' },
  { key: 'lost', outcome: 'lost', other: false, label: 'waits' },
  { key: 'refused', outcome: 'refused', other: false, label: 'refused' },
  { key: 'other', outcome: 'answered', other: true, label: 'something else' },
] as const;
const seenText = ({ outcome, other }: NonNullable<VantageCell['seen']>): string =>
  OUTCOMES.find((o) => o.outcome === outcome && o.other === other)?.label ?? outcome;

async function say(cell: VantageCell, o: (typeof OUTCOMES)[number]): Promise<void> {
  asked.value = '';
  await edits.observeFrom(cell, o.outcome, o.other);
}
</script>

<template>
  <section class="vantages" aria-label="Who tries from where" data-test="vantages">
    <header>
      <h2>Who tries from where</h2>
      <button type="button" class="link" data-test="vantages-close" @click="selection.panel = null">
        back to the stop <kbd>Esc</kbd>
      </button>
    </header>
    <div class="body" tabindex="0" role="region" aria-label="Places and endpoints">
      <p v-if="grid && grid.endpoints.length === 0" class="quiet">
        No port is known yet: paste what the program says of itself, or put right what was heard.
      </p>
      <table v-else-if="grid">
        <thead>
          <tr>
            <th scope="col">From</th>
            <th v-for="e in grid.endpoints" :key="e.key" scope="col" class="mono">{{ e.label }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in grid.rows" :key="r.key" :data-test="`vantage-${r.key}`">
            <th scope="row">
              {{ r.label }}
              <span v-if="r.cells[0]?.to" class="quiet">to <AddressText :text="r.cells[0].to" /></span>
            </th>
            <td v-for="c in r.cells" :key="c.endpoint" :class="{ disagrees: c.seen?.disagrees }">
              <span class="worked"
                ><LampMark :lamp="c.lamp" :size="15" /> <span class="quiet">{{ WORDS[c.lamp] }}</span></span
              >
              <span v-if="c.seen" class="seen" data-test="cell-seen"
                >seen: {{ seenText(c.seen) }}
                <span class="quiet">{{ c.seen.at ? ageText(c.seen.at) : '' }}</span>
                <strong v-if="c.seen.disagrees"> – not as worked out</strong></span
              >
              <span
                v-if="asked === `${r.key} ${c.endpoint}`"
                class="choices"
                role="group"
                :aria-label="r.label"
              >
                <ElButton
                  v-for="o in OUTCOMES"
                  :key="o.key"
                  size="small"
                  :data-test="`say-${o.key}`"
                  @click="say(c, o)"
                  >{{ o.label }}</ElButton
                >
              </span>
              <button
                v-else-if="c.to"
                type="button"
                class="link"
                :data-test="`ask-${c.endpoint}`"
                :aria-label="`What was seen ${r.label}, ${c.endpoint}`"
                @click="asked = `${r.key} ${c.endpoint}`"
              >
                {{ c.seen ? 'tried again' : 'note a try' }}
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.vantages {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

h2 {
  margin: 0 0 6px;
  font-size: 15px;
  font-weight: 600;
}

.body {
  overflow: auto;
}

table {
  border-collapse: collapse;
  width: 100%;
}

th,
td {
  padding: 5px 14px 5px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
  font-weight: 400;
}

thead th {
  font-weight: 600;
}

.worked {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  margin-right: 12px;
}

td .link,
.worked {
  vertical-align: middle;
}

.seen {
  display: block;
}

.disagrees .seen {
  color: var(--shut);
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.choices :deep(.el-button) {
  margin: 0;
}
</style>
