<script setup lang="ts">
import type { EvidenceEntry } from '@bright-ferry/core/case';
import { computed, ref } from 'vue';
import { shortName } from '../lib/shortName.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import { useSelection } from '../stores/selection.ts';
import ChoiceField from './ChoiceField.vue';
import PieceTools from './PieceTools.vue';

/** Which piece of evidence is shown, and what can be done with the whole of it. */
const props = defineProps<{
  at: { readonly file: string; readonly line: number };
  /** null: a line that was typed. */
  entry: EvidenceEntry | null;
}>();
const edits = useEdits();
const history = useHistory();
const selection = useSelection();

/** Pieces of the same stop that may be the rest of this one. */
const partners = computed(() =>
  (history.document?.evidence ?? [])
    .filter((e) => e.stop === props.entry?.stop && e.file !== props.entry?.file)
    .map((e) => ({ value: e.file, label: shortName(e.file) })),
);
const partner = ref('');

function join(file: string): void {
  partner.value = '';
  if (props.entry && file !== '') void edits.joinEvidence(props.entry.file, file);
}
</script>

<template>
  <header>
    <h2 class="mono">{{ at.file }}</h2>
    <span v-if="entry" class="part">
      <ChoiceField
        v-if="partners.length > 0"
        v-model="partner"
        :choices="partners"
        label="Join with another piece"
        empty="join with …"
        :width="118"
        data-test="join"
        @chosen="join"
      />
      <button
        v-if="at.line > 1"
        type="button"
        class="link"
        data-test="split"
        @click="edits.splitEvidence(entry.file, at.line)"
      >
        part it before line {{ at.line }}
      </button>
      <PieceTools :file="entry.file" :called="shortName(entry.file)" />
    </span>
    <button type="button" class="link" data-test="close-source" @click="selection.shownSource = null">
      back to the stop <kbd>Esc</kbd>
    </button>
  </header>
</template>

<style scoped>
header {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

h2 {
  font-weight: 600;
  overflow-wrap: anywhere;
}

.part {
  display: flex;
  gap: 12px;
  margin-left: auto;
  white-space: nowrap;
}
</style>
