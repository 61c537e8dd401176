<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import AddressText from './AddressText.vue';
import { useSelection } from '../stores/selection.ts';

/** What machines on the way saw of the service's packets; each leads to its place in the original. */
defineProps<{ records: BenchView['records'] }>();
const selection = useSelection();
</script>

<template>
  <ul class="records quiet" data-test="records">
    <li v-for="r in records" :key="r.text">
      <button type="button" class="link" @click="selection.shownSource = r.source">Seen</button>
      <AddressText :text="` at ${r.text}`" />
    </li>
  </ul>
</template>

<style scoped>
.records {
  margin: 0 20px 6px 64px;
  padding: 0;
  list-style: none;
}
</style>
