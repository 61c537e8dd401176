<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import { ref } from 'vue';
import { copyText } from '../lib/download.ts';
import NextCheck from './NextCheck.vue';
import NextMend from './NextMend.vue';

/** The one thing to do now: a change with exact values, or something to ask for. */
defineProps<{ view: BenchView }>();
const copied = ref<boolean | null>(null);

async function copy(text: string): Promise<void> {
  copied.value = await copyText(text);
}
</script>

<template>
  <section class="next" aria-label="What to do next">
    <NextMend v-if="view.next.kind === 'mend'" :first="view.next.mend" @copy="copy" />
    <NextCheck v-else-if="view.next.kind === 'check'" :check="view.next" @copy="copy" />
    <template v-else>
      <h2>{{ view.next.title }}</h2>
      <p>{{ view.next.text }}</p>
    </template>
    <p v-if="copied !== null" class="quiet" role="status">
      {{ copied ? 'Copied.' : 'The browser does not let the page copy; select the text instead.' }}
    </p>
    <p v-if="view.later.length > 0" class="quiet later">
      After that: {{ view.later.map((l) => l.title).join(' · ') }}
    </p>
  </section>
</template>

<style scoped src="./next.css"></style>

<style scoped>
.next {
  border-left: 4px solid var(--ferry);
  padding: 2px 0 2px 14px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
</style>
