<script setup lang="ts">
import type { FormField } from '@bright-ferry/core/devices';
import type { StopDetail } from '@bright-ferry/core/views';
import { ElInput } from 'element-plus/es/components/input/index.mjs';
import 'element-plus/es/components/input/style/css';
import { computed } from 'vue';
import { givenChoices, knownChoices, type Editable } from '../lib/picks.ts';
import ChoiceField from './ChoiceField.vue';

/** One value of a device: chosen where the case knows what there is, typed where it does not. */
const props = defineProps<{
  readonly field: FormField;
  readonly label: string;
  readonly form: Editable;
  readonly stop: StopDetail;
  readonly problem?: string | undefined;
  readonly test: string;
}>();
const value = defineModel<string>({ default: '' });
const given = computed(() => givenChoices(props.field));
const known = computed(() =>
  props.field.picks ? knownChoices(props.field.picks, props.form, props.stop) : [],
);
const withOwn = computed(() => {
  const { value: own } = value;
  if (own === '' || known.value.some((c) => c.value === own)) return known.value;
  return [{ value: own, label: own }, ...known.value];
});
</script>

<template>
  <div class="field" :class="{ wrong: problem }">
    <span class="name">{{ field.label }}</span>
    <ChoiceField
      v-if="given"
      v-model="value"
      :choices="[{ value: '', label: 'not known' }, ...given]"
      :label="label"
      empty="not known"
      :data-test="test"
    />
    <ChoiceField
      v-else-if="known.length > 0 && field.type !== 'list'"
      v-model="value"
      :choices="withOwn"
      :label="label"
      :empty="field.hint"
      free
      mono
      :data-test="test"
    />
    <ElInput
      v-else
      v-model="value"
      size="small"
      class="mono"
      :aria-label="label"
      :aria-invalid="problem !== undefined"
      :placeholder="field.hint ?? ''"
      :data-test="test"
      spellcheck="false"
    />
    <span v-if="known.length > 0 && field.type === 'list'" class="known">
      <button
        v-for="c in known.slice(0, 4)"
        :key="c.value"
        type="button"
        class="link quiet"
        @click="value = c.value"
      >
        {{ c.label }}
      </button>
    </span>
    <span v-if="problem" class="problem" role="alert">{{ problem }}</span>
  </div>
</template>

<style scoped>
.field {
  display: flex;
  flex-direction: column;
  gap: 1px;
  min-width: 0;
}

.name {
  color: var(--ink-soft);
  font-size: 13px;
}

.known {
  display: flex;
  flex-wrap: wrap;
  gap: 0 8px;
  font-size: 12px;
}

.problem {
  color: var(--shut);
  font-size: 13px;
}
</style>
