<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import LampMark from './LampMark.vue';
import RecordLines from './RecordLines.vue';
import SeenLine from './SeenLine.vue';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { useAnalysis } from '../stores/analysis.ts';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';

/** Which try the crossing shows: of which endpoint, from where, and what was seen of it. */
defineProps<{ view: BenchView }>();
const analysis = useAnalysis();
const edits = useEdits();
const selection = useSelection();
</script>

<template>
  <div v-if="view.endpoints.length > 1" class="endpoints" role="group" aria-label="Endpoint of the service">
    <button
      v-for="e in view.endpoints"
      :key="e.key"
      type="button"
      class="endpoint"
      :aria-pressed="e.key === view.selected"
      :data-test="`endpoint-${e.key}`"
      @click="analysis.choose(e.key)"
    >
      <LampMark :lamp="e.lamp" :size="15" /> <span class="mono">{{ e.label }}</span>
      <span class="quiet">{{ e.word }}</span>
    </button>
  </div>
  <div class="tries">
    <div v-if="view.viewpoints.length > 1" class="endpoints" role="group" aria-label="Tried from">
      <span class="quiet">tried from</span>
      <button
        v-for="v in view.viewpoints"
        :key="v.key"
        type="button"
        class="endpoint"
        :aria-pressed="v.key === view.viewpoint"
        :data-test="`from-${v.key}`"
        @click="analysis.lookFrom(v.key)"
      >
        <LampMark :lamp="v.lamp" :size="15" /> {{ v.label }} <span class="quiet">{{ v.word }}</span>
      </button>
    </div>
    <button
      type="button"
      class="link"
      data-test="all-places"
      title="All places from which it may be tried"
      :aria-pressed="selection.panel === 'grid'"
      @click="selection.toggle('grid')"
    >
      All <kbd>w</kbd>
    </button>
    <SeenLine v-if="view.trial" :trial="view.trial" />
  </div>
  <p v-for="g in view.guessed" :key="g.port" class="unsaid" data-test="unsaid">
    Nobody has said whether {{ g.port }} is TCP or UDP; taken for {{ g.protocol.toUpperCase() }}.
    <ElButton size="small" data-test="say-tcp" @click="edits.setProtocol(g.port, ['tcp'])"
      >It is TCP</ElButton
    >
    <ElButton size="small" data-test="say-udp" @click="edits.setProtocol(g.port, ['udp'])"
      >It is UDP</ElButton
    >
    <ElButton size="small" data-test="say-both" @click="edits.setProtocol(g.port, ['tcp', 'udp'])"
      >Both</ElButton
    >
  </p>
  <RecordLines v-if="view.records.length > 0" :records="view.records" />
  <p v-for="n in view.dialNotes" :key="n" class="dial-note quiet">Dialled: {{ n }}</p>
</template>

<style scoped>
.tries {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 12px;
  padding: 0 20px 0 64px;
}

.tries .endpoints {
  padding-left: 0;
  padding-right: 0;
}

.endpoints {
  display: flex;
  gap: 14px;
  padding: 2px 20px 4px 64px;
}

.endpoint {
  display: flex;
  gap: 6px;
  align-items: center;
  background: none;
  border: 0;
  border-bottom: 2px solid transparent;
  padding: 1px 0;
  font: inherit;
  color: inherit;
  cursor: pointer;
}

.endpoint[aria-pressed='true'] {
  border-bottom-color: var(--ferry);
}

.unsaid {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  margin: 0;
  padding: 0 20px 4px 64px;
}

.unsaid :deep(.el-button) {
  margin: 0;
}

.dial-note {
  padding: 0 20px 2px 64px;
}
</style>
