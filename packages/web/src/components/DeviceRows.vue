<script setup lang="ts">
import type { FormProblems, FormTable, SettingsKind } from '@bright-ferry/core/devices';
import { deviceRowText } from '@bright-ferry/core/words';
import type { StopDetail } from '@bright-ferry/core/views';
import { computed, nextTick, ref } from 'vue';
import { fieldsOf, type Editable, type FormRow } from '../lib/picks.ts';
import AddressText from './AddressText.vue';
import DeviceField from './DeviceField.vue';

/** The rows of a device as sentences. One opens in its place into the few fields that its kind has. */
const props = defineProps<{
  readonly kind: SettingsKind;
  readonly table: FormTable;
  readonly stop: StopDetail;
  readonly problems: FormProblems;
  /** The same rows as the evidence shows them. */
  readonly shown: readonly FormRow[];
}>();
const form = defineModel<Editable>({ required: true });
const rows = computed(() => form.value.tables[props.table.key] ?? []);
const opened = ref<number | null>(null);
const root = ref<HTMLElement | null>(null);

const plain = (row: FormRow): string =>
  JSON.stringify(
    Object.entries(row)
      .filter(([, v]) => v !== '')
      .sort(),
  );
const known = computed(() => new Set(props.shown.map(plain)));
const problemIn = (i: number): string | undefined =>
  Object.entries(props.problems).find(([k]) => k.startsWith(`${props.table.key}/${i}/`))?.[1];

/** Rows that the service needs and that are not there, by protocol and port. */
const needed = computed(() => {
  const of = (r: FormRow): string =>
    [r['protocol'], r['ports'] ?? r['localPorts'] ?? r['services']].join(' ');
  const there = new Set(rows.value.map(of));
  return (props.stop.starting[props.kind]?.[props.table.key] ?? []).filter((r) => !there.has(of(r)));
});

async function open(i: number | null): Promise<void> {
  opened.value = opened.value === i ? null : i;
  await nextTick();
  const at = i ?? 0;
  const place = opened.value === null ? `[data-row="${at}"] .sentence` : `[data-row="${at}"] .fields input`;
  root.value?.querySelector<HTMLElement>(place)?.focus();
}

async function add(row: FormRow): Promise<void> {
  const first = props.table.columns[0];
  // A row whose fields go by its kind begins as the most usual kind.
  const isKinds = props.table.columns.some((c) => c.only?.key === first?.key);
  const begun = isKinds && first?.options?.[0] ? { [first.key]: first.options[0].value, ...row } : { ...row };
  rows.value.push(begun);
  opened.value = null;
  await open(rows.value.length - 1);
}

function remove(i: number): void {
  rows.value.splice(i, 1);
  opened.value = null;
}

function move(i: number, by: -1 | 1): void {
  const [row] = rows.value.splice(i, 1);
  if (row) rows.value.splice(i + by, 0, row);
  opened.value = opened.value === i ? i + by : null;
}
</script>

<template>
  <div ref="root">
    <ol v-if="rows.length > 0" class="rows">
      <li v-for="(row, i) in rows" :key="i" :data-row="i" :class="{ open: opened === i }">
        <div class="line">
          <button
            type="button"
            class="sentence"
            :aria-expanded="opened === i"
            :data-test="`row-${table.key}-${i}`"
            @click="open(i)"
          >
            <AddressText :text="deviceRowText(kind, table.key, row)" />
          </button>
          <span v-if="problemIn(i) && opened !== i" class="wrong">{{ problemIn(i) }}</span>
          <span class="quiet from">{{ known.has(plain(row)) ? 'as its page shows' : 'by hand' }}</span>
        </div>
        <div v-if="opened === i" class="fields" @keydown.esc.stop="open(i)">
          <DeviceField
            v-for="c in fieldsOf(table, row)"
            :key="c.key"
            v-model="row[c.key]"
            :field="c"
            :label="`${table.label} ${i + 1}: ${c.label}`"
            :form="form"
            :stop="stop"
            :problem="problems[`${table.key}/${i}/${c.key}`]"
            :test="`${table.key}-${i}-${c.key}`"
          />
          <p class="do">
            <button type="button" class="link" :data-test="`close-${table.key}-${i}`" @click="open(i)">
              close
            </button>
            <template v-if="table.isOrdered">
              <button type="button" class="link" :disabled="i === 0" @click="move(i, -1)">earlier</button>
              <button type="button" class="link" :disabled="i === rows.length - 1" @click="move(i, 1)">
                later
              </button>
            </template>
            <button
              type="button"
              class="link"
              :aria-label="`Remove ${table.label} ${i + 1}`"
              :data-test="`take-${table.key}-${i}`"
              @click="remove(i)"
            >
              remove
            </button>
          </p>
        </div>
      </li>
    </ol>
    <p class="more">
      <button
        v-for="(r, i) in needed"
        :key="i"
        type="button"
        class="link need"
        :data-test="`need-${table.key}-${i}`"
        @click="add(r)"
      >
        add: {{ deviceRowText(kind, table.key, r) }}
      </button>
      <button type="button" class="link quiet" :data-test="`add-${table.key}`" @click="add({})">
        another row
      </button>
      <label v-if="table.none && rows.length === 0" class="none"
        ><input
          type="checkbox"
          :data-test="`none-${table.key}`"
          :checked="form.fields[`none/${table.key}`] === 'yes'"
          @change="
            form.fields[`none/${table.key}`] = ($event.target as HTMLInputElement).checked ? 'yes' : ''
          "
        />
        {{ table.none }}</label
      >
    </p>
  </div>
</template>

<style scoped>
.rows {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  border-left: 3px solid transparent;
  padding: 2px 0 2px 8px;
}

li.open {
  border-left-color: var(--ferry);
  background: var(--sheet);
  padding-bottom: 8px;
}

.line {
  display: flex;
  gap: 14px;
  align-items: baseline;
}

.sentence {
  background: none;
  border: 0;
  padding: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.sentence:hover {
  text-decoration: underline;
  text-decoration-style: dotted;
  text-underline-offset: 3px;
}

.from {
  margin-left: auto;
  padding-right: 8px;
  white-space: nowrap;
  font-size: 13px;
}

.wrong {
  color: var(--shut);
}

.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 6px 14px;
  padding: 6px 8px 0 0;
}

.do,
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: center;
}

.do {
  grid-column: 1 / -1;
}

.more {
  padding: 2px 0 0 11px;
}

.need {
  text-align: left;
}
</style>
