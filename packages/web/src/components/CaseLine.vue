<script setup lang="ts">
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import { ageText } from '../lib/age.ts';
import type { DeskCase } from '../stores/desk.ts';
import LampMark from './LampMark.vue';

/** A case as a line of the desk: its verdict, what it waits for, and what can be done with it. */
const props = defineProps<{ line: DeskCase }>();
const emit = defineEmits<{ again: []; export: []; remove: [] }>();

const verdict = computed(() => {
  const { line } = props.line;
  if (!line) return 'not worked out yet';
  return line.place ? `${line.word} · ${line.place}` : line.word;
});

/** What is due there, in a few words. */
const waits = computed(() => {
  const c = props.line;
  if (c.closed !== null) return `closed ${ageText(c.closed)}`;
  if (c.retest !== null) return `a try since the change ${ageText(c.retest)}`;
  return c.line?.waits ?? '';
});
</script>

<template>
  <li>
    <LampMark :lamp="line.line?.lamp ?? 'fogged'" :size="18" />
    <span class="what">
      <RouterLink :to="{ name: 'bench', params: { id: line.id } }">{{ line.title }}</RouterLink>
      <span class="quiet mono">{{ [line.from, line.dials].filter(Boolean).join(' → ') }}</span>
    </span>
    <span class="verdict" :class="line.line?.lamp">
      {{ verdict }}
    </span>
    <span class="waits">{{ waits }}</span>
    <span class="quiet age" :title="new Date(line.updatedAt).toLocaleString()">{{
      ageText(line.updatedAt)
    }}</span>
    <span class="do">
      <button
        type="button"
        class="link"
        :data-test="`again-${line.id}`"
        title="A new case about the same site, as it was last known"
        @click="emit('again')"
      >
        again
      </button>
      <button type="button" class="link" :data-test="`export-${line.id}`" @click="emit('export')">
        export
      </button>
      <button type="button" class="link" :data-test="`remove-${line.id}`" @click="emit('remove')">
        remove
      </button>
    </span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 18px minmax(0, 3fr) minmax(0, 2fr) minmax(0, 3fr) 96px 150px;
  gap: 2px 14px;
  align-items: center;
  border-top: 1px solid var(--line);
  padding: 5px 0;
}

li:hover {
  background: var(--sheet);
}

.what {
  display: flex;
  flex-direction: column;
  min-width: 0;
}

.what .mono {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.verdict {
  font-weight: 600;
}

.verdict.lit {
  color: var(--lit);
}

.verdict.shut {
  color: var(--shut);
}

.verdict.fogged {
  color: var(--fog);
}

.do {
  display: flex;
  gap: 12px;
  justify-content: flex-end;
}

@media (max-width: 900px) {
  li {
    grid-template-columns: 18px minmax(0, 1fr);
  }

  li > :nth-child(n + 3) {
    grid-column: 2;
    justify-content: flex-start;
  }
}
</style>
