<script setup lang="ts">
import type { SuspectView } from '@bright-ferry/core/views';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

/** Suspects, each with how likely it is; its stop and its evidence are one click away. */
defineProps<{ suspects: readonly SuspectView[] }>();
const selection = useSelection();
</script>

<template>
  <ol class="named">
    <li v-for="s in suspects" :key="`${s.fault} ${s.stop}`" :class="s.grade" data-test="suspect">
      <span class="word">{{ s.word }}</span>
      <span>
        <button type="button" class="link" @click="selection.openAt(s.stop)">{{ s.at }}</button>:
        <AddressText :text="s.text" />
        <button
          v-for="e in s.evidence"
          :key="`${e.file}:${e.line}`"
          type="button"
          class="link"
          @click="selection.shownSource = e"
        >
          line {{ e.line }}
        </button>
      </span>
    </li>
  </ol>
</template>

<style scoped>
.named {
  display: grid;
  gap: 4px;
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  display: grid;
  grid-template-columns: 9.5em 1fr;
  gap: 10px;
  border-left: 4px solid var(--line);
  padding: 2px 0 2px 10px;
}

.found {
  border-color: var(--shut);
}

.likely {
  border-color: var(--turned);
}

.word {
  font-weight: 600;
}
</style>
