<script setup lang="ts">
import type { MendView } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed } from 'vue';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';

/** A change with exact values, and its other way where there are two. */
const props = defineProps<{ first: MendView }>();
const emit = defineEmits<{ copy: [text: string] }>();
const edits = useEdits();
const selection = useSelection();

/** Of two ways the second one is looked at. */
const isOther = computed(() => selection.otherWay === props.first.title);
const mend = computed(() => (isOther.value ? props.first.or : null) ?? props.first);
const other = computed(() => (isOther.value ? props.first : props.first.or) ?? null);

function takeOther(): void {
  selection.otherWay = isOther.value ? null : props.first.title;
}
</script>

<template>
  <div class="part">
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
      <ElButton @click="emit('copy', mend.message)">Copy words for the owner</ElButton>
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
  </div>
</template>

<style scoped src="./next.css"></style>

<style scoped>
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

.then {
  padding-left: 16px;
}
</style>
