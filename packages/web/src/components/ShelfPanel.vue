<script setup lang="ts">
import type { ShelfView } from '@bright-ferry/core/views';
import { shallowRef, watch } from 'vue';
import { ageText } from '../lib/age.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import PieceTools from './PieceTools.vue';
import AddressText from './AddressText.vue';
import { shortName } from '../lib/shortName.ts';

/** All evidence of the case: what came, when, from which stop, and how far each piece is understood. */
const analysis = useAnalysis();
const history = useHistory();
const selection = useSelection();
const shelf = shallowRef<ShelfView | null>(null);
watch(
  () => history.document,
  async () => (shelf.value = await analysis.ask('shelf', {})),
  { immediate: true },
);

const when = (at: string | null): string =>
  at ? new Date(at).toLocaleString([], { dateStyle: 'short', timeStyle: 'short' }) : '';
const share = (p: ShelfView['pieces'][number]): number =>
  p.lines === 0 ? 0 : Math.round((100 * p.understood) / p.lines);
</script>

<template>
  <section class="shelf" aria-label="Evidence shelf" data-test="shelf">
    <header>
      <h2>All evidence</h2>
      <button type="button" class="link" @click="selection.panel = null">
        back to the stop <kbd>Esc</kbd>
      </button>
    </header>
    <div class="body" tabindex="0" role="region" aria-label="Pieces of evidence">
      <div
        v-for="(c, i) in shelf?.contradictions ?? []"
        :key="i"
        class="contradiction"
        data-test="contradiction"
      >
        <strong>Contradiction.</strong> <AddressText :text="c.text" /> {{ c.consequence }} To settle it, ask
        for: {{ c.settle.title }}.
        <button
          v-for="s in c.sides"
          :key="s.value"
          type="button"
          class="link"
          @click="selection.shownSource = s.source"
        >
          {{ s.value }}
        </button>
      </div>
      <p v-if="shelf && shelf.pieces.length === 0" class="quiet">
        Nothing has come yet. Paste whatever the caller sends.
      </p>
      <table v-else-if="shelf">
        <thead>
          <tr>
            <th scope="col">what</th>
            <th scope="col">from</th>
            <th scope="col">when</th>
            <th scope="col">understood</th>
            <th scope="col">facts</th>
            <th scope="col"><span class="unseen">do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in shelf.pieces" :key="p.file">
            <td>
              <button type="button" class="link" @click="selection.shownSource = { file: p.file, line: 1 }">
                {{ shortName(p.file) }}
              </button>
              <span class="quiet">{{ p.title }}</span>
              <p v-if="p.misplaced" class="misplaced" data-test="misplaced">
                {{ p.misplaced }}
              </p>
            </td>
            <td>{{ p.stopName }}</td>
            <td class="quiet">
              <span :title="when(p.at)">{{ p.at ? ageText(p.at) : 'no time' }}</span>
              <span v-if="p.stale" class="since" :title="p.stale">from before the change</span>
            </td>
            <td>
              <span class="bar" role="img" :aria-label="`${p.understood} of ${p.lines} lines understood`"
                ><span :style="{ width: `${share(p)}%` }"
              /></span>
              <span class="quiet">{{ p.understood }} of {{ p.lines }}</span>
            </td>
            <td>{{ p.facts }}</td>
            <td><PieceTools :file="p.file" :called="shortName(p.file)" /></td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.misplaced {
  color: var(--shut);
  max-width: 46ch;
}

.since {
  color: var(--shut);
}

.shelf {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

header {
  display: flex;
  justify-content: space-between;
}

h2 {
  font-size: 16px;
  font-weight: 600;
}

.body {
  overflow: auto;
  min-height: 0;
}

td {
  border-top: 1px solid var(--line);
  padding: 4px 12px 4px 0;
}

td:nth-child(n + 2) {
  white-space: nowrap;
}

.bar {
  display: inline-block;
  width: 40px;
  height: 8px;
  border: 1px solid var(--fog);
  vertical-align: middle;
  margin-right: 6px;
  background: repeating-linear-gradient(45deg, var(--fog-soft) 0 3px, transparent 3px 6px);
}

.bar span {
  display: block;
  height: 100%;
  background: var(--lit);
}

.contradiction {
  background: var(--shut-soft);
  color: var(--shut);
  padding: 5px 8px;
  margin: 4px 0;
}

.contradiction .link {
  color: inherit;
  margin-right: 8px;
}
</style>
