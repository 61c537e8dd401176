<script setup lang="ts">
import { useAnalysis } from '../stores/analysis.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

/** What is suspected most while the verdict leaves it open, and the way to all of it. */
const analysis = useAnalysis();
const selection = useSelection();
</script>

<template>
  <p v-if="analysis.suspicion?.line" class="suspect" data-test="suspect-line">
    <span :class="{ quiet: !analysis.suspicion.line.isNamed }"
      ><AddressText :text="analysis.suspicion.line.text" />.</span
    >
    <button
      type="button"
      class="link"
      data-test="suspects-button"
      :aria-pressed="selection.panel === 'suspects'"
      @click="selection.toggle('suspects')"
    >
      What may be wrong <kbd>q</kbd>
    </button>
  </p>
</template>

<style scoped>
.suspect {
  display: flex;
  gap: 12px;
  align-items: baseline;
  margin: 0 20px 4px 64px;
}

.suspect .link {
  white-space: nowrap;
}
</style>
