<script setup lang="ts">
import { pointedAt } from '@bright-ferry/core/intake';
import { pointedText } from '@bright-ferry/core/words';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed } from 'vue';
import { useIntake } from '../stores/intake.ts';
import { useSelection } from '../stores/selection.ts';

/** What an unread line may say: each address and port of it can be pointed at as what it is. */
const props = defineProps<{ text: string }>();
const emit = defineEmits<{ said: [] }>();
const intake = useIntake();
const selection = useSelection();
const choices = computed(() => pointedAt(props.text));

async function say(typed: string): Promise<void> {
  emit('said');
  await intake.typeFact(typed);
}

function write(): void {
  selection.proposed = props.text.trim();
  emit('said');
}
</script>

<template>
  <div class="pointed" role="group" aria-label="What this line says" data-test="pointed">
    <ElButton v-for="c in choices" :key="c.typed" size="small" :title="c.typed" @click="say(c.typed)">{{
      pointedText(c)
    }}</ElButton>
    <ElButton size="small" text data-test="write-it" @click="write">write it in other words</ElButton>
  </div>
</template>

<style scoped>
.pointed {
  display: flex;
  flex: 0 0 100%;
  flex-wrap: wrap;
  gap: 6px;
  padding: 4px 0 6px 44px;
  font-family: var(--text);
}

.pointed :deep(.el-button) {
  margin: 0;
}
</style>
