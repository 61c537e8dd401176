<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { computed, defineAsyncComponent, ref, watch } from 'vue';
import StopKnown from './StopKnown.vue';

const AskList = defineAsyncComponent(() => import('./AskList.vue'));
const DeviceForm = defineAsyncComponent(() => import('./DeviceForm.vue'));
const OpeningsList = defineAsyncComponent(() => import('./OpeningsList.vue'));
const StopFiles = defineAsyncComponent(() => import('./StopFiles.vue'));
const StopRules = defineAsyncComponent(() => import('./StopRules.vue'));

/** The opened stop: what is known and from where, the rules that the packet met, the evidence itself. */
const props = defineProps<{ stop: StopDetail }>();
type Tab = 'known' | 'rules' | 'evidence' | 'ask' | 'device' | 'open';
const tab = ref<Tab>('known');
watch(
  () => props.stop.id,
  () => (tab.value = 'known'),
);

const tabs = computed(() => [
  { key: 'known' as Tab, label: `Known ${props.stop.facts.length}` },
  { key: 'rules' as Tab, label: `Rules met ${props.stop.rules.length}` },
  { key: 'evidence' as Tab, label: `Evidence ${props.stop.files.length}` },
  ...(props.stop.asks.length > 0 ? [{ key: 'ask' as Tab, label: 'Ask for' }] : []),
  ...(props.stop.role !== 'client'
    ? [{ key: 'device' as Tab, label: props.stop.settings ? 'Device' : 'Fill in the device' }]
    : []),
  ...(props.stop.role === 'client' ? [] : [{ key: 'open' as Tab, label: 'Open from outside' }]),
]);
</script>

<template>
  <section class="stop" :aria-label="stop.name">
    <header>
      <h2>{{ stop.name }}</h2>
      <div role="tablist" aria-label="What to show of this stop">
        <button
          v-for="t in tabs"
          :id="`tab-${t.key}`"
          :key="t.key"
          type="button"
          role="tab"
          class="tab"
          :aria-selected="tab === t.key"
          aria-controls="stop-body"
          @click="tab = t.key"
        >
          {{ t.label }}
        </button>
      </div>
    </header>
    <div id="stop-body" role="tabpanel" :aria-labelledby="`tab-${tab}`" tabindex="0" class="body">
      <StopKnown v-if="tab === 'known'" :stop="stop" />
      <StopRules v-else-if="tab === 'rules'" :stop="stop" />
      <AskList v-else-if="tab === 'ask'" :key="stop.id" :stop="stop" />
      <DeviceForm v-else-if="tab === 'device'" :key="stop.id" :stop="stop" />
      <OpeningsList v-else-if="tab === 'open'" />
      <StopFiles v-else :stop="stop" />
    </div>
  </section>
</template>

<style scoped>
.stop {
  display: flex;
  flex-direction: column;
  min-height: 0;
}

header {
  display: flex;
  align-items: baseline;
  gap: 20px;
}

h2 {
  font-size: 16px;
  font-weight: 600;
}

.tab {
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  padding: 2px 0;
  margin-right: 16px;
  font: inherit;
  color: var(--ink-soft);
  cursor: pointer;
}

.tab[aria-selected='true'] {
  color: var(--ink);
  font-weight: 600;
  border-bottom-color: var(--ferry);
}

.body {
  overflow: auto;
  padding: 8px 0 12px;
  min-height: 0;
}
</style>
