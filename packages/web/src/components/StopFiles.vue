<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { ageText } from '../lib/age.ts';
import { shortName } from '../lib/shortName.ts';
import { useSelection } from '../stores/selection.ts';
import PieceTools from './PieceTools.vue';

/** The evidence of a stop, and what of it was not understood. */
defineProps<{ stop: StopDetail }>();
const selection = useSelection();
</script>

<template>
  <div>
    <p v-if="stop.files.length === 0" class="quiet">No evidence from this stop yet.</p>
    <ul class="files">
      <li v-for="f in stop.files" :key="f.file">
        <button type="button" class="link" @click="selection.shownSource = { file: f.file, line: 1 }">
          {{ shortName(f.file) }}
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
        <PieceTools :file="f.file" :called="shortName(f.file)" />
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
  </div>
</template>

<style scoped>
.since {
  color: var(--shut);
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
</style>
