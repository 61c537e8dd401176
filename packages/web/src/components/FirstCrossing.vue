<script setup lang="ts">
import type { CaseDocument } from '@bright-ferry/core/case';
import type { CrossingView } from '@bright-ferry/core/views';
import { onBeforeUnmount, shallowRef, watch } from 'vue';
import { services } from '../stores/services.ts';
import CrossingMap from './CrossingMap.vue';

/** The crossing as far as the caller's line tells it; it grows while the line is typed. */
const props = defineProps<{ document: CaseDocument }>();
const { analyst } = services();
const crossing = shallowRef<CrossingView | null>(null);

/** Time in which nothing more is typed, milliseconds. */
const PAUSE = 150;
let timer: ReturnType<typeof setTimeout> | undefined;
let asked = 0;

async function work(document: CaseDocument): Promise<void> {
  const turn = ++asked;
  try {
    const state = { id: 'new', document, files: new Map<string, Uint8Array>() };
    const view = await analyst.ask('bench', { endpoint: null, viewpoint: null }, state);
    if (turn === asked) crossing.value = view.crossing;
  } catch {
    // Half a line may not be a case yet; the next letter asks again.
  }
}

watch(
  () => props.document,
  (document) => {
    clearTimeout(timer);
    timer = setTimeout(() => void work(document), PAUSE);
  },
  { immediate: true },
);
onBeforeUnmount(() => clearTimeout(timer));
</script>

<template>
  <section v-if="crossing" class="first" aria-label="The way as the line tells it" data-test="first-crossing">
    <CrossingMap :crossing="crossing" still />
  </section>
</template>

<style scoped>
.first {
  margin-top: 20px;
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
</style>
