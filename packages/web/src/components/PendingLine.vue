<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { nextTick, onMounted, ref, watch } from 'vue';
import { useHistory } from '../stores/history.ts';
import { useIntake } from '../stores/intake.ts';

/** Asks whose a piece of evidence is; the likeliest stop stands first and has the focus. */
const history = useHistory();
const intake = useIntake();
const first = ref<HTMLElement | null>(null);
const name = (id: string): string => history.document?.path.find((s) => s.id === id)?.name ?? id;
const focus = (): void => void nextTick(() => first.value?.querySelector('button')?.focus());
onMounted(focus);
watch(() => intake.pending, focus);
</script>

<template>
  <section v-if="intake.pending" ref="first" class="asking" aria-label="Whose is this?">
    <p>
      <strong>Whose is this?</strong> {{ intake.pending.title }}.
      <span v-if="intake.questions.length > 1" data-test="waiting"
        >{{ intake.questions.length - 1 }} more to ask about.</span
      >
      <span class="quiet">Likely the first: {{ intake.pending.why }}.</span>
    </p>
    <div>
      <ElButton
        v-for="(stop, i) in intake.pending.candidates"
        :key="stop"
        size="small"
        :type="i === 0 ? 'primary' : 'default'"
        :data-test="`assign-${stop}`"
        @click="intake.assign(stop)"
        >{{ name(stop) }}</ElButton
      >
      <ElButton size="small" text @click="intake.leaveOut()">Leave it out</ElButton>
    </div>
  </section>
</template>
