<script setup lang="ts">
import { isRecorded } from '@bright-ferry/core/asks';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, ref } from 'vue';
import { ageText } from '../lib/age.ts';
import { copyText } from '../lib/download.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import ChoiceField from './ChoiceField.vue';

/** A try that is watched: what to switch on, the word to try, and the moment at which it was given. */
const analysis = useAnalysis();
const edits = useEdits();
const history = useHistory();
const chosen = ref('');
const copied = ref<'words' | 'blocked' | null>(null);

const recordings = computed(() =>
  (analysis.view?.stops ?? []).flatMap(({ id, role, asks }) =>
    asks.filter((a) => isRecorded(a.yields)).map((a) => ({ key: `${id} ${a.yields}`, stop: id, role, ...a })),
  ),
);
/** The server's own log tells most. */
const current = computed(
  () =>
    recordings.value.find((r) => r.key === chosen.value) ??
    recordings.value.find((r) => r.role === 'host' && r.yields === 'drop-log') ??
    recordings.value[0] ??
    null,
);
const choices = computed(() => recordings.value.map((r) => ({ value: r.key, label: r.words.title })));
const words = computed(() => {
  const { message = '', commands = [] } = current.value?.words ?? {};
  return [message, ...commands.slice(0, 1).map((c) => `    ${c.text}`)].join('\n\n');
});
const told = computed(() => (history.document?.watched ?? []).toReversed());

async function copy(): Promise<void> {
  copied.value = (await copyText(words.value)) ? 'words' : 'blocked';
}
</script>

<template>
  <section v-if="current" class="watch" aria-label="A try that is watched" data-test="watch">
    <ChoiceField
      :model-value="current.key"
      :choices="choices"
      :width="260"
      label="What records the try"
      @chosen="(v) => (chosen = v)"
    />
    <ElButton size="small" data-test="copy-recording" @click="copy">{{
      copied === 'words' ? 'Copied' : '1. Copy how to switch it on'
    }}</ElButton>
    <ElButton
      size="small"
      type="primary"
      data-test="tries-now"
      @click="edits.triesNow(current.stop, current.yields)"
      >2. They try now</ElButton
    >
    <span class="quiet">3. bring what was recorded</span>
    <span v-if="told[0]" class="quiet" role="status" data-test="told"
      >told to try {{ ageText(told[0].at) }}{{ told.length > 1 ? `, ${told.length} times in all` : '' }}</span
    >
    <span v-if="copied === 'blocked'" role="status"
      >The browser does not let the page copy; the words stand under <em>Ask for</em> on the bench.</span
    >
  </section>
</template>

<style scoped>
.watch {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  margin-bottom: 10px;
}

.watch :deep(.el-button) {
  margin: 0;
}
</style>
