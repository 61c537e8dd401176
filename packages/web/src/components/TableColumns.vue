<script setup lang="ts">
import type { TableColumns, TableShape } from '@bright-ferry/core/reading';
import { TABLE_ROLES } from '@bright-ferry/core/facts';
import { columnWord } from '@bright-ferry/core/words';
import { ref, watch } from 'vue';
import { useIntake } from '../stores/intake.ts';

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
    <label class="kind"
      >Read as
      <select v-model="table" data-test="table-kind" @change="changeTable">
        <option value="forwards">a table of port forwards</option>
        <option value="devices">a list of devices or leases</option>
      </select>
    </label>
    <label v-for="(role, i) in roles" :key="i" class="column" :class="{ idle: role === 'other' }">
      <span class="quiet">{{ shape.heading[i] || `column ${i + 1}` }}</span>
      <select v-model="roles[i]" :data-test="`column-${i + 1}`" @change="keep">
        <option v-for="r in TABLE_ROLES[table]" :key="r" :value="r">{{ columnWord(r) }}</option>
      </select>
      <span class="mono sample">{{ shape.samples[i]?.[0] ?? '' }}</span>
    </label>
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
