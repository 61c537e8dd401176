<script setup lang="ts">
import type { OpeningsView } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { onUnmounted, ref, shallowRef, watch } from 'vue';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

/**
 * Everything that an outside sender reaches on this site, what nobody asked for first; and rules that can
 * never match.
 */
const analysis = useAnalysis();
const history = useHistory();
const selection = useSelection();
const found = shallowRef<OpeningsView | null>(null);

const isWorking = ref(false);
let run = 0;

/** A newer state of the case ends what is worked out for an older one. */
async function work(): Promise<void> {
  const mine = ++run;
  if (isWorking.value) analysis.stopOpenings();
  isWorking.value = true;
  const made = await analysis.ask('openings', {});
  if (mine !== run) return;
  isWorking.value = false;
  found.value = made;
}

watch(() => history.document, work, { immediate: true });
onUnmounted(() => {
  if (isWorking.value) analysis.stopOpenings();
});
</script>

<template>
  <p v-if="isWorking" class="quiet" role="status">
    Working out what every address outside reaches …
    <ElButton size="small" data-test="stop-openings" @click="analysis.stopOpenings()">Stop</ElButton>
  </p>
  <p v-else-if="!found" class="quiet">
    Stopped.
    <ElButton size="small" data-test="work-openings" @click="work()">Work it out</ElButton>
  </p>
  <template v-else>
    <p v-if="found.refused" role="alert">Not worked out: {{ found.refused }}.</p>
    <p v-else-if="found.rows.length === 0" class="quiet">
      Nothing on this site can be reached from outside, as far as it is known.
    </p>
    <table v-else data-test="openings">
      <thead>
        <tr>
          <th scope="col">from outside</th>
          <th scope="col">reaches</th>
          <th scope="col">for</th>
          <th scope="col">lets in</th>
          <th scope="col">asked for</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in found.rows" :key="i" :class="{ unasked: !r.asked || r.wider }">
          <td class="mono"><AddressText :text="`${r.ports} at ${r.at}`" /></td>
          <td>{{ r.stop }}: {{ r.listener }}</td>
          <td class="mono">
            <AddressText :text="r.sources" /><span v-if="!r.sure" class="quiet">
              (not certain{{ r.needs ? `: ${r.needs}` : '' }})</span
            >
          </td>
          <td class="let-in">
            {{ r.letIn.text }}
            <span class="scale" aria-hidden="true"
              ><i :style="{ width: `${100 * r.letIn.share}%` }"></i
            ></span>
          </td>
          <td>
            {{ r.askedText }}<template v-if="r.grave">. {{ r.grave }}</template>
            <button
              v-if="r.source"
              type="button"
              class="link quiet"
              @click="selection.shownSource = r.source"
            >
              show
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="found.programs.length > 0">
      <h3>Programs, and who reaches them</h3>
      <table data-test="programs">
        <thead>
          <tr>
            <th scope="col">program</th>
            <th scope="col">from outside</th>
            <th scope="col">from its network</th>
            <th scope="col">the service needs it</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="(p, i) in found.programs"
            :key="i"
            :class="{ unasked: !p.needed && (p.outside === 'anyone' || p.outside === 'some') }"
          >
            <td>
              {{ p.program ?? 'a program' }} <span class="mono"><AddressText :text="p.at" /></span>
            </td>
            <td>
              {{ p.reach }}
              <button
                v-if="p.row?.source"
                type="button"
                class="link quiet"
                :title="p.row.text"
                @click="selection.shownSource = p.row.source"
              >
                by this row
              </button>
            </td>
            <td>{{ p.inside ?? 'not known' }}</td>
            <td>{{ p.needed ? 'yes' : 'no' }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <template v-if="found.idle.length > 0">
      <h3>Rows for programs that do not run</h3>
      <ul data-test="idle">
        <li v-for="(r, i) in found.idle" :key="i">
          {{ r.stop }}:
          <button v-if="r.source" type="button" class="link mono" @click="selection.shownSource = r.source">
            {{ r.row }}</button><span v-else class="mono">{{ r.row }}</span>
          <span class="quiet"> lets in {{ r.ports }}, and nothing listens there</span>
        </li>
      </ul>
    </template>
    <p v-if="found.unsearched.length > 0" class="quiet">
      Rules that can never match were not looked for on {{ found.unsearched.join(', ') }}: its rule set parts
      the packets into too many pieces.
    </p>
    <template v-if="found.dead.length > 0">
      <h3>Rules that can never match</h3>
      <ul>
        <li v-for="(d, i) in found.dead" :key="i">
          {{ d.stop }}:
          <button v-if="d.source" type="button" class="link mono" @click="selection.shownSource = d.source">
            {{ d.rule }}</button><span v-else class="mono">{{ d.rule }}</span>
          <span class="quiet"> is taken by {{ d.by.join(' and ') }}</span>
        </li>
      </ul>
    </template>
  </template>
</template>

<style scoped>
td {
  border-top: 1px solid var(--line);
  padding: 5px 12px 5px 0;
  overflow-wrap: anywhere;
}

.unasked td:last-child {
  color: var(--shut);
}

.let-in {
  min-width: 11em;
}

/* Every step along it doubles the number of addresses. */
.scale {
  background: var(--line);
  display: block;
  height: 4px;
  margin-top: 3px;
  width: 10em;
}

.scale i {
  background: var(--ink);
  display: block;
  height: 100%;
}

.unasked .scale i {
  background: var(--shut);
}

h3 {
  font-size: 14px;
  margin-top: 12px;
}
</style>
