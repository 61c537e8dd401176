<script setup lang="ts">
import type { TrialView } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed } from 'vue';
import { ageText } from '../lib/age.ts';
import { OUTCOMES } from '../lib/outcomes.ts';
import { useEdits } from '../stores/edits.ts';

/** What whoever tries sees now: kept with the case, and held against the verdict. */
const props = defineProps<{ trial: TrialView }>();
const edits = useEdits();

const who = computed(() =>
  props.trial.vantage === 'lan-by-outside-address' ? 'from the inside' : 'the client',
);
const last = computed(() => {
  const seen = props.trial.last;
  const found = seen && OUTCOMES.find((o) => o.outcome === seen.outcome && o.other === seen.other);
  return seen && found
    ? { key: found.key, when: seen.at === null ? '' : ageText(seen.at), stale: seen.stale }
    : null;
});
</script>

<template>
  <div class="seen" role="group" :aria-label="`${who}: what a try shows now`" data-test="seen">
    <span class="quiet">{{ who }}, now:</span>
    <ElButton
      v-for="o in OUTCOMES"
      :key="o.key"
      size="small"
      :aria-pressed="last?.key === o.key && !last.stale"
      :class="{ said: last?.key === o.key && !last.stale }"
      :data-test="`seen-${o.key}`"
      @click="edits.observe(trial, o.outcome, o.other)"
      >{{ o.label }}</ElButton
    >
    <span v-if="last" class="quiet" data-test="seen-last"
      >{{ last.stale ? 'before the newest evidence' : 'seen' }} {{ last.when }}</span
    >
  </div>
</template>

<style scoped>
.seen {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  padding: 2px 0 4px;
}

.seen :deep(.el-button) {
  margin: 0;
}

.said {
  border-color: var(--ink);
  font-weight: 600;
}
</style>
