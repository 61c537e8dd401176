<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus/es/components/select/index.mjs';
import 'element-plus/es/components/select/style/css';

/** One of several, by mouse or keys; where `free` is set, anything else can be typed as well. */
export interface Choice {
  readonly value: string;
  readonly label: string;
  /** Said beside it, quieter. */
  readonly note?: string;
}

defineProps<{
  readonly choices: readonly Choice[];
  readonly label: string;
  readonly empty?: string;
  readonly free?: boolean;
  readonly mono?: boolean;
  readonly width?: number;
  readonly disabled?: boolean;
}>();
const value = defineModel<string>({ default: '' });
defineEmits<{ chosen: [value: string] }>();
</script>

<template>
  <ElSelect
    v-model="value"
    :aria-label="label"
    :placeholder="empty ?? ''"
    :filterable="free || choices.length > 8"
    :allow-create="free"
    :default-first-option="free"
    :reserve-keyword="false"
    :disabled="disabled"
    :class="{ mono }"
    :style="{ width: width ? `${width}px` : '100%' }"
    :fit-input-width="false"
    no-match-text="nothing like that"
    no-data-text="nothing to choose from"
    size="small"
    @change="(v: string) => $emit('chosen', v)"
  >
    <ElOption v-for="c in choices" :key="c.value" :value="c.value" :label="c.label"
      ><span :class="{ mono }">{{ c.label }}</span>
      <span v-if="c.note" class="quiet">{{ c.note }}</span></ElOption
    >
  </ElSelect>
</template>
