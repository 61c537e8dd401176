<script setup lang="ts">
import { computed, ref } from 'vue';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import ChoiceField from './ChoiceField.vue';

/** What can be done with a piece of evidence wherever it is shown: move, say how whole it is, take out. */
const props = defineProps<{ readonly file: string; readonly called: string }>();

const edits = useEdits();
const history = useHistory();
const entry = computed(() => history.document?.evidence?.find((e) => e.file === props.file) ?? null);
const others = computed(() =>
  (history.document?.path ?? [])
    .filter((s) => s.id !== entry.value?.stop)
    .map((s) => ({ value: s.id, label: s.name ?? s.id })),
);
const to = ref('');

function move(stop: string): void {
  to.value = '';
  if (stop !== '') void edits.moveEvidence(props.file, stop);
}
</script>

<template>
  <span class="tools">
    <ChoiceField
      v-if="entry"
      v-model="to"
      :choices="others"
      :label="`Move ${called} to another stop`"
      empty="move to …"
      :width="118"
      :data-test="`move-${called}`"
      @chosen="move"
    />
    <button
      v-if="entry"
      type="button"
      class="link"
      :data-test="`part-${called}`"
      :aria-pressed="entry.part === true"
      :title="entry.part ? 'Take it for the whole listing' : 'Nothing follows from what it does not show'"
      @click="edits.setPart(file, !entry.part)"
    >
      {{ entry.part ? 'it is all of it' : 'only a part' }}
    </button>
    <button
      type="button"
      class="link"
      :data-test="`remove-${called}`"
      :aria-label="`Remove ${called}`"
      @click="edits.removeEvidence(file)"
    >
      remove
    </button>
  </span>
</template>

<style scoped>
.tools {
  display: inline-flex;
  gap: 10px;
  align-items: center;
  white-space: nowrap;
}
</style>
