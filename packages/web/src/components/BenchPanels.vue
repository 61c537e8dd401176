<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import { computed, defineAsyncComponent } from 'vue';
import { useSelection } from '../stores/selection.ts';
import NextPanel from './NextPanel.vue';
import PasteBox from './PasteBox.vue';
import StopPanel from './StopPanel.vue';

/** Below the crossing: what is looked at, and beside it what to do next and where evidence comes in. */
const props = defineProps<{ view: BenchView }>();
const selection = useSelection();

// Seldom needed at once: fetched when they are first opened, so that the bench is there sooner.
const CasePanel = defineAsyncComponent(() => import('./CasePanel.vue'));
const SourceText = defineAsyncComponent(() => import('./SourceText.vue'));
const SuspectPanel = defineAsyncComponent(() => import('./SuspectPanel.vue'));
const VantagePanel = defineAsyncComponent(() => import('./VantagePanel.vue'));
const ShelfPanel = defineAsyncComponent(() => import('./ShelfPanel.vue'));

const detail = computed(
  () => props.view.stops.find((s) => s.id === selection.openStop) ?? props.view.stops.at(-1) ?? null,
);
</script>

<template>
  <div class="lower">
    <SourceText v-if="selection.shownSource" class="left" />
    <CasePanel v-else-if="selection.panel === 'case'" class="left" />
    <VantagePanel v-else-if="selection.panel === 'grid'" class="left" />
    <SuspectPanel v-else-if="selection.panel === 'suspects'" class="left" />
    <ShelfPanel v-else-if="selection.panel === 'shelf'" class="left" />
    <StopPanel v-else-if="detail" class="left" :stop="detail" />
    <aside class="right">
      <NextPanel class="advice" :view="view" />
      <PasteBox />
    </aside>
  </div>
</template>

<style scoped>
.lower {
  flex: 1;
  min-height: 220px;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  border-top: 1px solid var(--line);
}

.left {
  padding: 10px 20px 0;
}

.right {
  background: var(--sheet);
  border-left: 1px solid var(--line);
  padding: 12px 20px;
  min-height: 0;
  display: flex;
  flex-direction: column;
  gap: 10px;
}

.advice {
  flex: 1 1 auto;
  min-height: 0;
  overflow-y: auto;
}

@media (max-width: 900px) {
  .lower {
    grid-template-columns: 1fr;
  }

  .right {
    border-left: 0;
    border-top: 1px solid var(--line);
  }
}
</style>
