<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import AddressText from './AddressText.vue';
import { useSelection } from '../stores/selection.ts';

/** The first connection is answered: where the program sends the client next, if that does not work. */
defineProps<{ afterwards: NonNullable<BenchView['afterwards']> }>();
const selection = useSelection();
</script>

<template>
  <p class="afterwards" role="status" data-test="afterwards">
    <AddressText :text="afterwards.text" />.
    <button
      v-if="afterwards.source"
      type="button"
      class="link"
      @click="selection.shownSource = afterwards.source"
    >
      Where it says so
    </button>
  </p>
</template>

<style scoped>
.afterwards {
  margin: 2px 20px 6px 64px;
  padding: 4px 10px;
  border-left: 3px solid var(--shut);
  color: var(--shut);
  font-weight: 600;
}
.link {
  padding: 0;
  border: 0;
  background: none;
  color: var(--link, inherit);
  font: inherit;
  font-weight: 400;
  text-decoration: underline;
  cursor: pointer;
}
</style>
