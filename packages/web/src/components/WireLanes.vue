<script setup lang="ts">
import type { WireView } from '@bright-ferry/core/views';
import AddressText from './AddressText.vue';

/** The wire behind a stop: the packet's header above, its answer's below; what it changed stands out. */
defineProps<{ wire: WireView }>();
</script>

<template>
  <div class="lane out" :class="wire.out.state">
    <p v-if="wire.out.state !== 'empty'" class="header mono">
      <span :class="{ changed: wire.out.sourceChanged }"><AddressText :text="wire.out.source" /></span>
      <span class="to" :class="{ changed: wire.out.destinationChanged }"
        >→ <AddressText :text="wire.out.destination"
      /></span>
    </p>
  </div>
  <div class="lane back" :class="wire.back.state">
    <p v-if="wire.back.state !== 'empty'" class="header mono">
      <span class="to" :class="{ changed: wire.back.sourceChanged }"
        >← <AddressText :text="wire.back.source"
      /></span>
      <span v-if="wire.back.destinationChanged" class="changed"
        ><AddressText :text="wire.back.destination"
      /></span>
      <span v-if="wire.back.note" class="note">{{ wire.back.note }}</span>
    </p>
    <p v-else-if="wire.back.note" class="header note">{{ wire.back.note }}</p>
  </div>
</template>

<style scoped>
.lane {
  grid-column: 2;
  min-width: 0;
  position: relative;
  padding: 13px 10px 0 6px;
  margin-left: -6px;
}

.lane::before {
  content: '';
  position: absolute;
  top: 6px;
  left: 0;
  right: -8px;
  border-top: 2px dotted var(--line);
}

.out.carried::before {
  border-top: 3px solid var(--ink);
}

.back.carried::before {
  border-top: 3px double var(--lit);
}

.beyond.lane::before {
  border-top: 2px dotted var(--ink-soft);
}

.ends .lane.out::before {
  border-top: 2px dotted var(--ink-soft);
}

.ends .lane.out::after {
  content: '';
  position: absolute;
  left: -12px;
  top: -1px;
  width: 22px;
  height: 15px;
  background: var(--shut);
  border-radius: 2px;
}

.column.fogged .lane.empty {
  background: repeating-linear-gradient(45deg, var(--fog-soft) 0 5px, transparent 5px 10px);
}

.header {
  display: flex;
  flex-direction: column;
  gap: 1px;
  font-size: 11.5px;
  line-height: 1.35;
  overflow-wrap: anywhere;
  padding-left: 8px;
  align-items: flex-start;
}

.lane.beyond .header {
  color: var(--ink-soft);
}

.changed {
  background: var(--turned-soft);
  color: var(--turned);
  border-radius: 2px;
  box-shadow: 0 0 0 2px var(--turned-soft);
  font-weight: 600;
}

.note {
  color: var(--shut);
  font-family: var(--sans);
}
</style>
