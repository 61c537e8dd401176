<script setup lang="ts">
import type { TableColumns, TableShape } from '@bright-ferry/core/reading';
import { TABLE_ROLES } from '@bright-ferry/core/facts';
import { columnWord } from '@bright-ferry/core/words';
import { ref, watch } from 'vue';
import { useIntake } from '../stores/intake.ts';
import ChoiceField from './ChoiceField.vue';

/** What the columns of a copied table were taken for, each to be put right where it stands. */
const props = defineProps<{ shape: TableShape; file: string }>();
const intake = useIntake();

const table = ref<TableColumns['table']>('forwards');
const roles = ref<string[]>([]);
watch(
  () => props.shape,
  (shape) => {
    table.value = shape.columns.table;
    roles.value = [...shape.columns.roles];
  },
  { immediate: true },
);

const TABLES = [
  { value: 'forwards', label: 'a table of port forwards' },
  { value: 'devices', label: 'a list of devices or leases' },
];

function changeTable(): void {
  roles.value = roles.value.map((r) =>
    (TABLE_ROLES[table.value] as readonly string[]).includes(r) ? r : 'other',
  );
  keep();
}

function keep(): void {
  void intake.setColumns(props.file, { table: table.value, roles: [...roles.value] }, props.shape.signature);
}
</script>

<template>
  <div class="columns" role="group" aria-label="Columns of this table" data-test="columns">
    <span class="kind"
      >Read as
      <ChoiceField
        v-model="table"
        :choices="TABLES"
        label="What the table is"
        :width="200"
        data-test="table-kind"
        @chosen="changeTable"
      />
    </span>
    <span v-for="(role, i) in roles" :key="i" class="column" :class="{ idle: role === 'other' }">
      <span class="quiet">{{ shape.heading[i] || `column ${i + 1}` }}</span>
      <ChoiceField
        v-model="roles[i]"
        :choices="TABLE_ROLES[table].map((r) => ({ value: r, label: columnWord(r) }))"
        :label="`What ${shape.heading[i] || `column ${i + 1}`} is`"
        :width="132"
        :data-test="`column-${i + 1}`"
        @chosen="keep"
      />
      <span class="mono sample">{{ shape.samples[i]?.[0] ?? '' }}</span>
    </span>
  </div>
</template>

<style scoped>
.columns {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: end;
  margin-top: 6px;
}

.column,
.kind {
  display: flex;
  flex-direction: column;
  gap: 1px;
}

.column select {
  border-color: var(--lit);
}

.idle select {
  border-color: var(--line);
  color: var(--ink-soft);
}

.sample {
  max-width: 140px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

select {
  padding: 1px 2px;
  font-size: 13px;
}
</style>
