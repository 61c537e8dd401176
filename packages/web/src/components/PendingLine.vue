<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { nextTick, onMounted, ref } from 'vue';
import { useBench } from '../stores/bench.ts';

/** Asks whose a piece of evidence is; the likeliest stop stands first and has the focus. */
const bench = useBench();
const first = ref<HTMLElement | null>(null);
const name = (id: string): string => bench.document?.path.find((s) => s.id === id)?.name ?? id;
onMounted(() => void nextTick(() => first.value?.querySelector('button')?.focus()));
</script>

<template>
  <section v-if="bench.pending" ref="first" class="asking" aria-label="Whose is this?">
    <p>
      <strong>Whose is this?</strong> {{ bench.pending.title }}.
      <span class="quiet">Likely the first: {{ bench.pending.why }}.</span>
    </p>
    <div>
      <ElButton
        v-for="(stop, i) in bench.pending.candidates"
        :key="stop"
        size="small"
        :type="i === 0 ? 'primary' : 'default'"
        :data-test="`assign-${stop}`"
        @click="bench.assign(stop)"
        >{{ name(stop) }}</ElButton
      >
      <ElButton size="small" text @click="bench.pending = null">Leave it out</ElButton>
    </div>
  </section>
</template>
