<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { ref, watch } from 'vue';
import { useIntake } from '../stores/intake.ts';
import { useSelection } from '../stores/selection.ts';

/** Where evidence goes that is typed or pasted into a field; Ctrl+V works anywhere on the bench as well. */
const intake = useIntake();
const selection = useSelection();
const text = ref('');
const chooser = ref<HTMLInputElement | null>(null);
const box = ref<HTMLTextAreaElement | null>(null);

// A line that was not understood is offered for correction here.
watch(
  () => selection.proposed,
  (line) => {
    if (line === null) return;
    text.value = line;
    selection.proposed = null;
    box.value?.focus();
  },
);

async function put(): Promise<void> {
  const value = text.value;
  if (value.trim() === '') return;
  text.value = '';
  if (/\n/.test(value.trim())) await intake.takeIn(new TextEncoder().encode(value));
  else await intake.typeFact(value);
}

async function chosen(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement;
  for (const file of input.files ?? []) await intake.takeInFile(file);
  input.value = '';
}

function onKey(event: KeyboardEvent): void {
  if (
    event.key === 'Enter' &&
    !event.shiftKey &&
    (!text.value.includes('\n') || event.ctrlKey || event.metaKey)
  ) {
    event.preventDefault();
    void put();
  }
  if (event.key === 'Escape') (event.target as HTMLElement).blur();
}
</script>

<template>
  <section class="paste" aria-label="Evidence">
    <label for="paste-box"
      ><strong>Put in anything</strong> <kbd>Ctrl V</kbd>
      <span class="quiet">listings, tables, a status page, one line in plain words</span></label
    >
    <div class="line">
      <textarea
        id="paste-box"
        ref="box"
        v-model="text"
        data-test="paste-box"
        rows="1"
        spellcheck="false"
        placeholder="WAN IP 203.0.113.50"
        @keydown="onKey"
      />
      <ElButton data-test="put-in" :disabled="text.trim() === ''" @click="put">Put in</ElButton>
      <ElButton @click="chooser?.click()">File</ElButton>
      <input
        ref="chooser"
        type="file"
        multiple
        hidden
        data-test="file-input"
        aria-label="Evidence files"
        @change="chosen"
      />
    </div>
  </section>
</template>

<style scoped>
.paste {
  border: 1px dashed var(--fog);
  border-radius: 4px;
  padding: 8px 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}

.line {
  display: flex;
  gap: 6px;
  align-items: flex-start;
}

.line :deep(.el-button) {
  margin-left: 0;
  padding: 6px 10px;
}

textarea {
  flex: 1;
  min-width: 0;
  min-height: 32px;
  resize: vertical;
}
</style>
