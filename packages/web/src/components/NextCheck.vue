<script setup lang="ts">
import { isRecorded, posixCollector, powershellCollector } from '@bright-ferry/core/asks';
import type { BenchView } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, ref } from 'vue';
import { useEdits } from '../stores/edits.ts';

/** Something to ask the owner for, in words and in commands of their system. */
const props = defineProps<{ check: Extract<BenchView['next'], { kind: 'check' }> }>();
const emit = defineEmits<{ copy: [text: string] }>();
const edits = useEdits();
/** The system that the technician chose; until then the one that the evidence is from comes first. */
const system = ref<string | null>(null);

const command = computed(() => {
  const { commands } = props.check.words;
  return commands.find((c) => c.system === system.value) ?? commands[0] ?? null;
});
/** A record is made while the client tries: the moment is noted. */
const isRecording = computed(() => isRecorded(props.check.yields));

const GATHERED: readonly string[] = ['addresses', 'routes', 'sockets', 'rules', 'neighbours'];
const COLLECTORS: Readonly<Record<string, () => string>> = {
  windows: powershellCollector,
  linux: posixCollector,
};
/** For machines that can be asked by a script: everything in one go. */
const collector = computed(() =>
  GATHERED.includes(props.check.yields) ? (COLLECTORS[command.value?.system ?? '']?.() ?? null) : null,
);
const words = computed(
  () => `${props.check.words.message}${command.value ? `\n\n    ${command.value.text}` : ''}`,
);
</script>

<template>
  <div class="part">
    <h2>Ask for: {{ check.words.title }}</h2>
    <p class="quiet">
      {{ check.why }} About {{ check.words.minutes }}
      {{ check.words.minutes === 1 ? 'minute' : 'minutes' }} for the owner.
    </p>
    <p class="message">{{ check.words.message }}</p>
    <div v-if="check.words.commands.length > 0" class="systems" role="group" aria-label="System">
      <button
        v-for="c in check.words.commands"
        :key="c.system"
        type="button"
        class="system"
        :aria-pressed="c === command"
        @click="system = c.system"
      >
        {{ c.label }}
      </button>
    </div>
    <pre v-if="command" class="mono commands" tabindex="0" aria-label="Command or click path">{{
      command.text
    }}</pre>
    <div class="buttons">
      <ElButton type="primary" data-test="copy-check" @click="emit('copy', words)"
        >Copy words for the owner</ElButton
      >
      <ElButton v-if="collector" data-test="copy-collector" @click="emit('copy', collector)"
        >Copy a script that gathers all</ElButton
      >
      <ElButton v-if="isRecording" data-test="tries-now" @click="edits.triesNow(check.stop, check.yields)"
        >They try now</ElButton
      >
      <ElButton data-test="decline" @click="edits.decline(check.id)">The owner cannot</ElButton>
    </div>
  </div>
</template>

<style scoped src="./next.css"></style>

<style scoped>
.systems {
  display: flex;
  gap: 12px;
}
</style>
