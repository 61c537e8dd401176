<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import { ageText } from '../lib/age.ts';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

const AskList = defineAsyncComponent(() => import('./AskList.vue'));
const DeviceForm = defineAsyncComponent(() => import('./DeviceForm.vue'));
const PieceTools = defineAsyncComponent(() => import('./PieceTools.vue'));
const OpeningsList = defineAsyncComponent(() => import('./OpeningsList.vue'));

/** The opened stop: what is known and from where, the rules that the packet met, the evidence itself. */
const props = defineProps<{ stop: StopDetail }>();
const edits = useEdits();
const selection = useSelection();
type Tab = 'known' | 'rules' | 'evidence' | 'ask' | 'device' | 'open';
const tab = ref<Tab>('known');
watch(
  () => props.stop.id,
  () => (tab.value = 'known'),
);

const tabs = computed(() => [
  { key: 'known' as Tab, label: `Known ${props.stop.facts.length}` },
  { key: 'rules' as Tab, label: `Rules met ${props.stop.rules.length}` },
  { key: 'evidence' as Tab, label: `Evidence ${props.stop.files.length}` },
  ...(props.stop.asks.length > 0 ? [{ key: 'ask' as Tab, label: 'Ask for' }] : []),
  ...(props.stop.role !== 'client'
    ? [{ key: 'device' as Tab, label: props.stop.settings ? 'Device' : 'Fill in the device' }]
    : []),
  ...(props.stop.role === 'client' ? [] : [{ key: 'open' as Tab, label: 'Open from outside' }]),
]);
const short = (file: string): string =>
  file.startsWith('typed/') ? 'typed' : (file.split('/').pop() ?? file);
</script>

<template>
  <section class="stop" :aria-label="stop.name">
    <header>
      <h2>{{ stop.name }}</h2>
      <div role="tablist" aria-label="What to show of this stop">
        <button
          v-for="t in tabs"
          :id="`tab-${t.key}`"
          :key="t.key"
          type="button"
          role="tab"
          class="tab"
          :aria-selected="tab === t.key"
          aria-controls="stop-body"
          @click="tab = t.key"
        >
          {{ t.label }}
        </button>
      </div>
    </header>
    <div id="stop-body" role="tabpanel" :aria-labelledby="`tab-${tab}`" tabindex="0" class="body">
      <template v-if="tab === 'known'">
        <p v-if="stop.found" class="found">
          <strong>Found from the evidence.</strong> <AddressText :text="stop.found.text" />
          <button
            v-for="s in stop.found.evidence"
            :key="`${s.file}:${s.line}`"
            type="button"
            class="link quiet"
            @click="selection.shownSource = s"
          >
            {{ short(s.file) }}, line {{ s.line }}
          </button>
          <button type="button" class="link" data-test="refuse-stop" @click="edits.refuseStop(stop.found.id)">
            It is not there
          </button>
        </p>
        <p v-if="stop.alsoCalled.length > 0" class="event quiet">
          Also called
          <template v-for="(a, i) in stop.alsoCalled" :key="a.name"
            ><template v-if="i > 0">, </template
            ><button type="button" class="link" @click="selection.shownSource = a.source">
              {{ a.name }}
            </button></template
          >: the same machine, by its addresses.
        </p>
        <p v-for="(e, i) in stop.events" :key="i" class="event"><AddressText :text="e" /></p>
        <table v-if="stop.facts.length > 0">
          <thead>
            <tr>
              <th scope="col">what</th>
              <th scope="col">value</th>
              <th scope="col">source</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(f, i) in stop.facts" :key="i" :class="{ stale: f.stale }">
              <td>{{ f.label }}</td>
              <td class="mono"><AddressText :text="f.value" /></td>
              <td>
                <button
                  type="button"
                  class="link quiet"
                  data-test="source"
                  @click="selection.shownSource = f.source"
                >
                  {{ short(f.source.file) }}, line {{ f.source.line }}
                </button>
                <span v-if="f.stale" class="since">from before the change</span
                ><span v-else-if="f.at" class="quiet">{{ ageText(f.at) }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else class="quiet">
          Nothing is known of this stop yet. Paste what it prints, or a line of its page.
        </p>
      </template>
      <template v-else-if="tab === 'rules'">
        <p v-if="stop.rules.length === 0" class="quiet">
          The packet met no rules here: it did not come this far, or the rules are not known.
        </p>
        <ol v-else class="rules">
          <li v-for="(r, i) in stop.rules" :key="i" :class="{ hit: r.hit, decided: r.decided }">
            <span class="chain quiet">{{ r.chain }}</span>
            <button v-if="r.source" type="button" class="rule mono" @click="selection.shownSource = r.source">
              {{ r.text }}
            </button>
            <span v-else class="mono">{{ r.text }}</span>
            <span class="met">{{
              r.decided ? 'decided' : r.hit ? 'matched' : (r.missed ?? 'did not match')
            }}</span>
          </li>
        </ol>
      </template>
      <AskList v-else-if="tab === 'ask'" :key="stop.id" :stop="stop" />
      <DeviceForm v-else-if="tab === 'device'" :key="stop.id" :stop="stop" />
      <OpeningsList v-else-if="tab === 'open'" />
      <template v-else>
        <p v-if="stop.files.length === 0" class="quiet">No evidence from this stop yet.</p>
        <ul class="files">
          <li v-for="f in stop.files" :key="f.file">
            <button type="button" class="link" @click="selection.shownSource = { file: f.file, line: 1 }">
              {{ short(f.file) }}
            </button>
            <span>{{ f.title }}</span>
            <span class="quiet"
              >{{ f.facts }} facts{{
                f.problems.length > 0 ? `, ${f.problems.length} lines not understood` : ''
              }}</span
            >
            <span v-if="f.part" class="quiet">only a part</span>
            <span v-if="f.stale" class="since">from before the change</span>
            <span v-else-if="f.at" class="quiet">{{ ageText(f.at) }}</span>
            <PieceTools :file="f.file" :called="short(f.file)" />
            <p v-if="f.misplaced" class="since">
              {{ f.misplaced }}
            </p>
            <ul v-if="f.problems.length > 0" class="problems">
              <li v-for="p in f.problems.slice(0, 5)" :key="p.line">
                <button
                  type="button"
                  class="link"
                  @click="selection.shownSource = { file: f.file, line: p.line }"
                >
                  line {{ p.line }}
                </button>
                <span class="mono">{{ p.text.slice(0, 80) }}</span> {{ p.why }}
              </li>
            </ul>
          </li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
.stop {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

header {
  display: flex;
  align-items: baseline;
  gap: 20px;
}

h2 {
  font-size: 16px;
  font-weight: 600;
}

.tab {
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  padding: 2px 0;
  margin-right: 16px;
  font: inherit;
  color: var(--ink-soft);
  cursor: pointer;
}

.tab[aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  border-bottom-color: var(--ferry);
}

.body {
  overflow: auto;
  padding: 8px 0 12px;
  min-height: 0;
}

.found {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin-bottom: 6px;
  padding-left: 8px;
  border-left: 3px solid var(--turned);
}

.event {
  margin-bottom: 4px;
  overflow-wrap: anywhere;
}

td {
  border-top: 1px solid var(--line);
  overflow-wrap: anywhere;
}

.stale td:nth-child(2) {
  text-decoration: line-through;
  text-decoration-color: var(--fog);
}

.since {
  color: var(--shut);
}

td .link {
  white-space: nowrap;
}

.rules {
  padding: 0;
  list-style: none;
}

.rules li {
  display: grid;
  grid-template-columns: 190px 1fr auto;
  gap: 12px;
  padding: 3px 0 3px 8px;
  border-left: 3px solid transparent;
  border-bottom: 1px solid var(--line);
}

.rules .hit {
  border-left-color: var(--fog);
}

.rules .decided {
  border-left-color: var(--ferry);
  background: var(--now);
}

.rule {
  background: none;
  border: 0;
  padding: 0;
  text-align: left;
  color: inherit;
  cursor: pointer;
  overflow-wrap: anywhere;
}

.met {
  color: var(--ink-soft);
  text-align: right;
}

.files {
  padding: 0;
  list-style: none;
}

.files > li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
  align-items: center;
}

.problems {
  flex-basis: 100%;
  padding-left: 16px;
  color: var(--fog);
}

select {
  padding: 0 2px;
  font-size: 13px;
}
</style>
