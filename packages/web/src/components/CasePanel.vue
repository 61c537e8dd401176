<script setup lang="ts">
import { nextTick, onMounted, ref } from 'vue';
import { useSelection } from '../stores/selection.ts';
import HeardForm from './HeardForm.vue';
import WayList from './WayList.vue';

/** What was heard, and the way of the packets: each put right in its place, and kept as it is left. */
const selection = useSelection();
const root = ref<HTMLElement | null>(null);

onMounted(() => void nextTick(() => root.value?.querySelector('input')?.focus()));
</script>

<template>
  <section ref="root" class="case" aria-label="What was heard, and the way" data-test="case-panel">
    <header>
      <h2>What was heard</h2>
      <button type="button" class="link" data-test="case-close" @click="selection.panel = null">
        back to the stop <kbd>Esc</kbd>
      </button>
    </header>
    <div class="body">
      <HeardForm />
      <h2>The way, from the client inward</h2>
      <WayList />
    </div>
  </section>
</template>

<style scoped>
.case {
  display: flex;
  flex-direction: column;
  min-height: 0;
  padding: 10px 20px;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

h2 {
  font-size: 15px;
  font-weight: 600;
  margin: 4px 0 6px;
}

.body {
  overflow: auto;
  min-height: 0;
}
</style>
