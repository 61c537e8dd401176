<script setup lang="ts">
import { ElDialog } from 'element-plus/es/components/dialog/index.mjs';
import { computed, nextTick, ref } from 'vue';
import type { Command } from '../lib/commands.ts';

/** All commands of the page with their keys; type to narrow, arrows and Enter to run. */
const props = defineProps<{ commands: readonly Command[] }>();
const open = defineModel<boolean>({ required: true });
const search = ref('');
const at = ref(0);
const field = ref<HTMLInputElement | null>(null);
const found = computed(() =>
  props.commands.filter((c) => c.title.toLowerCase().includes(search.value.toLowerCase())),
);

function run(command: Command | undefined): void {
  if (!command) return;
  open.value = false;
  void nextTick(command.run);
}

function opened(): void {
  search.value = '';
  at.value = 0;
  field.value?.focus();
}
</script>

<template>
  <ElDialog v-model="open" title="Commands" width="460" append-to-body @opened="opened">
    <input
      ref="field"
      v-model="search"
      class="search"
      aria-label="Narrow the list"
      placeholder="Narrow the list"
      @keydown.down.prevent="at = Math.min(at + 1, found.length - 1)"
      @keydown.up.prevent="at = Math.max(at - 1, 0)"
      @keydown.enter.prevent="run(found[at])"
      @input="at = 0"
    />
    <ul>
      <li v-for="(c, i) in found" :key="c.title">
        <button type="button" :class="{ chosen: i === at }" @click="run(c)">
          <span>{{ c.title }}</span><kbd>{{ c.keys }}</kbd>
        </button>
      </li>
    </ul>
  </ElDialog>
</template>

<style scoped>
.search {
  width: 100%;
  margin-bottom: 8px;
}

ul {
  list-style: none;
  padding: 0;
  max-height: 380px;
  overflow: auto;
}

button {
  display: flex;
  justify-content: space-between;
  width: 100%;
  background: none;
  border: 0;
  padding: 5px 6px;
  font: inherit;
  color: inherit;
  cursor: pointer;
  text-align: left;
}

.chosen,
button:hover {
  background: var(--now);
}
</style>
