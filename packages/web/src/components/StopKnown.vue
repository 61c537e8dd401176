<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { ageText } from '../lib/age.ts';
import { shortName } from '../lib/shortName.ts';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

/** What is known of a stop, and from where. */
defineProps<{ stop: StopDetail }>();
const edits = useEdits();
const selection = useSelection();
</script>

<template>
  <div>
    <p v-if="stop.found" class="found">
      <strong>Found from the evidence.</strong> <AddressText :text="stop.found.text" />
      <button
        v-for="s in stop.found.evidence"
        :key="`${s.file}:${s.line}`"
        type="button"
        class="link quiet"
        @click="selection.shownSource = s"
      >
        {{ shortName(s.file) }}, line {{ s.line }}
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
              {{ shortName(f.source.file) }}, line {{ f.source.line }}
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
  </div>
</template>

<style scoped>
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
</style>
