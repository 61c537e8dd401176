<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { useSelection } from '../stores/selection.ts';

/** The rules that the packet met at a stop, in their order. */
defineProps<{ stop: StopDetail }>();
const selection = useSelection();

function metText({ decided, hit, missed }: StopDetail['rules'][number]): string {
  if (decided) return 'decided';
  return hit ? 'matched' : (missed ?? 'did not match');
}
</script>

<template>
  <div>
    <p v-if="stop.rules.length === 0" class="quiet">
      The packet met no rules here: it did not come this far, or the rules are not known.
    </p>
    <ol v-else class="rules">
      <li v-for="(r, i) in stop.rules" :key="i" :class="{ hit: r.hit, decided: r.decided }">
        <span class="chain quiet">{{ r.chain }}</span>
        <button v-if="r.source" type="button" class="rule mono" @click="selection.shownSource = r.source">
          {{ r.text }}
        </button>
        <span v-else class="mono">{{ r.text }}</span>
        <span class="met">{{ metText(r) }}</span>
      </li>
    </ol>
  </div>
</template>

<style scoped>
.rules {
  padding: 0;
  list-style: none;
}

.rules li {
  display: grid;
  grid-template-columns: 190px 1fr auto;
  gap: 12px;
  padding: 3px 0 3px 8px;
  border-left: 3px solid transparent;
  border-bottom: 1px solid var(--line);
}

.rules .hit {
  border-left-color: var(--fog);
}

.rules .decided {
  border-left-color: var(--ferry);
  background: var(--now);
}

.rule {
  background: none;
  border: 0;
  padding: 0;
  text-align: left;
  color: inherit;
  cursor: pointer;
  overflow-wrap: anywhere;
}

.met {
  color: var(--ink-soft);
  text-align: right;
}
</style>
