<script setup lang="ts">
import { computed } from 'vue';
import { useHovered } from '../lib/hovered.ts';

/** Text in which addresses light up wherever the same one stands while one of them is pointed at. */
const props = defineProps<{ text: string }>();
const hovered = useHovered();

const ADDRESS = /(?:\d{1,3}\.){3}\d{1,3}|(?:[0-9a-f]{1,4}:){2,7}[0-9a-f]{0,4}(?::[0-9a-f]{0,4})*/gi;
const parts = computed(() => {
  const out: { text: string; address: string | null }[] = [];
  let from = 0;
  for (const m of props.text.matchAll(ADDRESS)) {
    if (m.index > from) out.push({ text: props.text.slice(from, m.index), address: null });
    out.push({ text: m[0], address: m[0] });
    from = m.index + m[0].length;
  }
  if (from < props.text.length) out.push({ text: props.text.slice(from), address: null });
  return out;
});
</script>

<template>
  <span
    ><template v-for="(part, i) in parts" :key="i"
      ><span
        v-if="part.address"
        :class="['address', { same: hovered === part.address }]"
        @mouseenter="hovered = part.address"
        @mouseleave="hovered = null"
        >{{ part.text }}</span
      ><template v-for="(piece, k) in part.text.split(/(?<=[.:])(?=[a-z])/)" v-else :key="k"
        ><wbr v-if="k > 0" />{{ piece }}</template
      ></template
    ></span
  >
</template>

<style scoped>
.address {
  border-radius: 2px;
}

.same {
  background: var(--same);
  color: var(--ink);
}
</style>
