<script setup lang="ts">
import type { Shrinking } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { onUnmounted, ref, shallowRef, watch } from 'vue';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import ShrinkingChart from './ShrinkingChart.vue';
import SuspectList from './SuspectList.vue';

/** What may be wrong, how likely, what tells the suspects apart, and how each answer made them fewer. */
const analysis = useAnalysis();
const history = useHistory();
const selection = useSelection();
const steps = shallowRef<Shrinking | null>(null);
const isWorking = ref(false);
let run = 0;

async function work(): Promise<void> {
  const mine = ++run;
  if (isWorking.value) analysis.stopShrinking();
  isWorking.value = true;
  const made = await analysis.ask('shrinking', {});
  if (mine !== run) return;
  isWorking.value = false;
  steps.value = made;
}

watch(() => history.document, work, { immediate: true });
onUnmounted(() => {
  if (isWorking.value) analysis.stopShrinking();
});
</script>

<template>
  <section class="suspects" aria-label="What may be wrong" data-test="suspects">
    <header>
      <h2>What may be wrong</h2>
      <button type="button" class="link" data-test="suspects-close" @click="selection.panel = null">
        back to the stop <kbd>Esc</kbd>
      </button>
    </header>
    <div v-if="analysis.suspicion" class="body" tabindex="0" role="region" aria-label="Suspects">
      <SuspectList v-if="analysis.suspicion.suspects.length > 0" :suspects="analysis.suspicion.suspects" />
      <p v-else-if="analysis.suspicion.sure" class="quiet">Nothing is in question: the verdict is sure.</p>
      <template v-if="analysis.suspicion.also.length > 0">
        <h3>Behind it</h3>
        <SuspectList :suspects="analysis.suspicion.also" />
      </template>
      <template v-if="analysis.suspicion.checks.length > 0">
        <h3>What to ask for, in this order</h3>
        <ol class="checks">
          <li v-for="c in analysis.suspicion.checks" :key="c.id">
            {{ c.text }} <span class="quiet">about {{ c.minutes }} min</span>
          </li>
        </ol>
      </template>
      <table v-if="analysis.suspicion.open.length > 0" data-test="open-places">
        <thead>
          <tr>
            <th scope="col">Not looked at yet</th>
            <th scope="col">kinds of fault</th>
            <th scope="col">shown by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="o in analysis.suspicion.open" :key="o.key">
            <th scope="row">{{ o.text }}</th>
            <td class="mono">{{ o.kinds }}</td>
            <td>
              <template v-if="o.settledBy"
                >{{ o.settledBy.title }} <span class="quiet">({{ o.settledBy.kinds }})</span></template
              ><span v-else class="quiet">only by trying</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="isWorking" class="quiet" role="status">
        Walking through the answers …
        <ElButton size="small" @click="analysis.stopShrinking()">Stop</ElButton>
      </p>
      <template v-else-if="steps && steps.length > 1">
        <h3>How each answer made them fewer</h3>
        <ShrinkingChart :steps="steps" />
      </template>
    </div>
  </section>
</template>

<style scoped>
.suspects {
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

h3 {
  margin: 12px 0 4px;
  font-size: 13px;
  font-weight: 600;
}

.body {
  overflow: auto;
}

table {
  border-collapse: collapse;
  width: 100%;
  margin-top: 12px;
}

th,
td {
  padding: 3px 14px 3px 0;
  text-align: left;
  vertical-align: baseline;
  font-weight: 400;
}

thead th {
  color: var(--ink-soft);
  font-size: 12px;
}

.checks {
  margin: 0;
  padding-left: 20px;
}
</style>
