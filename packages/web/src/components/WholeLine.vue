<script setup lang="ts">
import type { BenchView } from '@bright-ferry/core/views';
import { ElButton } from 'element-plus';
import AddressText from './AddressText.vue';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';
import { shortName } from '../lib/shortName.ts';

/** Where nothing but wholeness is open: what follows if the listings are all that there is. */
defineProps<{ ifWhole: NonNullable<BenchView['ifWhole']> }>();
const edits = useEdits();
const selection = useSelection();
</script>

<template>
  <p class="whole" data-test="if-whole">
    <span
      >If nothing is missing in
      <template v-for="(file, i) in ifWhole.files" :key="file"
        ><template v-if="i > 0">, </template
        ><button type="button" class="link" @click="selection.shownSource = { file, line: 1 }">
          {{ shortName(file) }}
        </button></template
      >: <strong><AddressText :text="ifWhole.text" /></strong
    ></span>
    <ElButton size="small" data-test="is-whole" @click="edits.setWhole(ifWhole.files)"
      >That is all of it <kbd>a</kbd></ElButton
    >
  </p>
</template>

<style scoped>
.whole {
  display: flex;
  gap: 12px;
  align-items: baseline;
  justify-content: space-between;
  margin: 0 20px 6px 64px;
  padding: 4px 0 4px 10px;
  border-left: 3px solid var(--line);
}
</style>
