<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import { isRecorded, posixCollector, powershellCollector } from '@bright-ferry/core/asks';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, ref } from 'vue';
import { copyText } from '../lib/download.ts';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

/** The one thing to do now: a change with exact values, or something to ask for. */
const props = defineProps<{ view: BenchView }>();
const edits = useEdits();
const selection = useSelection();
const copied = ref<string | null>(null);
/** The system that the technician chose; until then the one that the evidence is from comes first. */
const system = ref<string | null>(null);

const first = computed(() => (props.view.next.kind === 'mend' ? props.view.next.mend : null));
/** Of two ways the second one is looked at. */
const isOther = computed(() => first.value !== null && selection.otherWay === first.value.title);
const mend = computed(() => (isOther.value ? first.value?.or : null) ?? first.value);
const other = computed(() => (isOther.value ? first.value : first.value?.or) ?? null);
const check = computed(() => (props.view.next.kind === 'check' ? props.view.next : null));
const command = computed(
  () =>
    check.value?.words.commands.find((c) => c.system === system.value) ??
    check.value?.words.commands[0] ??
    null,
);
/** A record is made while the client tries: the moment is noted. */
const isRecording = computed(() => check.value !== null && isRecorded(check.value.yields));
/** For machines that can be asked by a script: everything in one go. */
const collector = computed(() => {
  if (!check.value || !['addresses', 'routes', 'sockets', 'rules', 'neighbours'].includes(check.value.yields))
    return null;
  return command.value?.system === 'windows'
    ? powershellCollector()
    : command.value?.system === 'linux'
      ? posixCollector()
      : null;
});
const words = computed(() =>
  mend.value
    ? mend.value.message
    : check.value
      ? `${check.value.words.message}${command.value ? `\n\n    ${command.value.text}` : ''}`
      : '',
);

function takeOther(): void {
  selection.otherWay = isOther.value ? null : (first.value?.title ?? null);
}

async function copy(text: string, what: string): Promise<void> {
  copied.value = (await copyText(text)) ? what : 'blocked';
}
</script>

<template>
  <section class="next" aria-label="What to do next">
    <template v-if="mend">
      <h2>{{ mend.title }}</h2>
      <p class="quiet where"><AddressText :text="mend.where" /></p>
      <p v-if="other" class="other">
        <button type="button" data-test="other-way" :disabled="!!selection.rehearsed" @click="takeOther">
          {{ isOther ? 'Or the first way' : 'Or' }}: {{ other.title }}
        </button>
      </p>
      <table v-if="mend.values.length > 0" class="values">
        <tbody>
          <tr v-for="v in mend.values" :key="v.label">
            <th scope="row">{{ v.label }}</th>
            <td class="mono">
              <template v-if="v.now !== null"
                ><del><AddressText :text="v.now" /></del> → </template
              ><ins><AddressText :text="v.mended" /></ins>
            </td>
          </tr>
        </tbody>
      </table>
      <pre
        v-if="mend.commands.length > 0"
        class="mono commands"
        tabindex="0"
        aria-label="Commands for this change"
        >{{ mend.commands.join('\n') }}</pre>
      <details v-if="mend.undo.length > 0" class="quiet undo">
        <summary>How to take it back</summary>
        <pre class="mono commands" tabindex="0" aria-label="Commands that take it back">{{
          mend.undo.join('\n')
        }}</pre>
      </details>
      <p v-if="mend.also" class="also"><AddressText :text="mend.also" /></p>
      <p class="quiet">Opens {{ mend.opens }}.</p>
      <div class="buttons">
        <ElButton
          v-if="mend.rehearsal"
          type="primary"
          data-test="rehearse"
          @click="selection.rehearsed = selection.rehearsed ? null : mend"
          >{{ selection.rehearsed ? 'End the rehearsal' : 'Rehearse it' }}</ElButton
        >
        <ElButton @click="copy(words, 'words')">Copy words for the owner</ElButton>
        <ElButton
          v-if="mend.shownBy && !selection.rehearsed"
          data-test="change-made"
          @click="edits.changeMade(mend)"
          >It is made</ElButton
        >
      </div>
      <ul v-if="mend.then.length > 0" class="then">
        <li v-for="t in mend.then" :key="t.text">
          <strong>Then, {{ t.stop }}:</strong> <AddressText :text="t.text" />
        </li>
      </ul>
    </template>
    <template v-else-if="check">
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
        <ElButton type="primary" data-test="copy-check" @click="copy(words, 'words')"
          >Copy words for the owner</ElButton
        >
        <ElButton v-if="collector" data-test="copy-collector" @click="copy(collector, 'collector')"
          >Copy a script that gathers all</ElButton
        >
        <ElButton
          v-if="isRecording"
          data-test="tries-now"
          @click="check && edits.triesNow(check.stop, check.yields)"
          >They try now</ElButton
        >
        <ElButton data-test="decline" @click="edits.decline(check.id)">The owner cannot</ElButton>
      </div>
    </template>
    <template v-else-if="view.next.kind === 'done'">
      <h2>{{ view.next.title }}</h2>
      <p>{{ view.next.text }}</p>
    </template>
    <p v-if="copied" class="quiet" role="status">
      {{
        copied === 'blocked' ? 'The browser does not let the page copy; select the text instead.' : 'Copied.'
      }}
    </p>
    <p v-if="view.later.length > 0" class="quiet later">
      After that: {{ view.later.map((l) => l.title).join(' · ') }}
    </p>
  </section>
</template>

<style scoped>
.next {
  border-left: 4px solid var(--ferry);
  padding: 2px 0 2px 14px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}

h2 {
  font-size: 16px;
  line-height: 1.25;
  font-weight: 600;
}

.where,
.also {
  overflow-wrap: anywhere;
}

.values th {
  padding: 2px 12px 2px 0;
}

.values td {
  padding: 2px 0;
}

del {
  color: var(--shut);
  background: var(--shut-soft);
  padding: 0 3px;
}

ins {
  color: var(--turned);
  background: var(--turned-soft);
  text-decoration: none;
  font-weight: 600;
  padding: 0 3px;
}

.commands {
  flex: none;
  margin: 0;
  padding: 6px 8px;
  background: var(--sheet);
  border: 1px solid var(--line);
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  max-height: 120px;
  overflow-y: auto;
}

.other {
  margin: 0;
}

.other button {
  padding: 0;
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-align: left;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  cursor: pointer;
}

.other button:disabled {
  opacity: 0.5;
  cursor: default;
}

/* What to press stays in sight, however long what stands above it is. */
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  position: sticky;
  bottom: -2px;
  margin-top: 2px;
  padding: 6px 0 8px;
  background: var(--sheet);
}

.buttons :deep(.el-button) {
  margin-left: 0;
}

.systems {
  display: flex;
  gap: 12px;
}

.then {
  padding-left: 16px;
}
</style>
