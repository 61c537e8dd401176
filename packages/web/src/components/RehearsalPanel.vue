<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { useSelection } from '../stores/selection.ts';
import CrossingMap from './CrossingMap.vue';
import VerdictLine from './VerdictLine.vue';

/**
 * The change tried on a copy: the crossing as it is and as it would be, in the same columns, so that every
 * stop stands beside
 * itself. The case is not touched.
 */
const selection = useSelection();
</script>

<template>
  <section
    v-if="selection.rehearsed?.rehearsal"
    class="rehearsal"
    aria-label="Rehearsal"
    data-test="rehearsal"
  >
    <header>
      <h2>Rehearsed on a copy: {{ selection.rehearsed.title }}</h2>
      <ElButton size="small" data-test="end-rehearsal" @click="selection.rehearsed = null"
        >End the rehearsal</ElButton
      >
    </header>
    <article aria-label="As it is now">
      <p class="side">now</p>
      <div>
        <VerdictLine small :verdict="selection.rehearsed.rehearsal.before.verdict" />
        <CrossingMap still :crossing="selection.rehearsed.rehearsal.before.crossing" />
      </div>
    </article>
    <article aria-label="With the change" class="after" data-test="rehearsal-after">
      <p class="side">with the change</p>
      <div>
        <VerdictLine small :verdict="selection.rehearsed.rehearsal.after.verdict" />
        <CrossingMap still :crossing="selection.rehearsed.rehearsal.after.crossing" />
      </div>
    </article>
  </section>
</template>

<style scoped>
.rehearsal {
  overflow: auto;
  flex: 1;
  min-height: 0;
}

header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 8px 20px;
  background: var(--now);
}

h2 {
  font-size: 16px;
  font-weight: 600;
}

article {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr);
  padding: 8px 0 4px;
}

.after {
  border-top: 1px solid var(--line);
  background: var(--sheet);
}

.side {
  writing-mode: vertical-rl;
  rotate: 180deg;
  text-align: center;
  color: var(--ink-soft);
  border-left: 3px solid var(--line);
  margin: 4px 0;
}

.after .side {
  border-left-color: var(--ferry);
  color: var(--ink);
  font-weight: 600;
}
</style>
