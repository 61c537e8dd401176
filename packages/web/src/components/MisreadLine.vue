<script setup lang="ts">
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { nextTick, onMounted, ref } from 'vue';
import { useIntake } from '../stores/intake.ts';

/** Letters where digits belong: says what they look like, and takes nothing for granted. */
const intake = useIntake();
const root = ref<HTMLElement | null>(null);
const MOST = 4;
onMounted(() => void nextTick(() => root.value?.querySelector('button')?.focus()));
</script>

<template>
  <section
    v-if="intake.misread"
    ref="root"
    class="asking"
    aria-label="Misread characters"
    data-test="misread"
  >
    <p>
      <strong>Misread?</strong>
      <span v-for="l in intake.misread.lookAlikes.slice(0, MOST)" :key="`${l.line} ${l.from}`" class="one"
        ><span class="mono"
          ><span v-for="(c, i) in l.from" :key="i" :class="{ bad: c !== l.to[i] }">{{ c }}</span></span
        >
        looks like <span class="mono good">{{ l.to }}</span> <span class="quiet">({{ l.why }})</span></span
      >
      <span v-if="intake.misread.lookAlikes.length > MOST" class="quiet"
        >and {{ intake.misread.lookAlikes.length - MOST }} more</span
      >
    </p>
    <div>
      <ElButton size="small" type="primary" data-test="take-corrected" @click="intake.sayCharacters(true)"
        >Yes, read it so</ElButton
      >
      <ElButton size="small" data-test="keep-characters" @click="intake.sayCharacters(false)"
        >No, as it stands</ElButton
      >
      <ElButton size="small" text @click="intake.leaveOut()">Leave it out</ElButton>
    </div>
  </section>
</template>

<style scoped>
.one {
  margin-left: 10px;
}

.bad {
  background: var(--shut-soft);
  color: var(--shut);
  font-weight: 700;
}

.good {
  background: var(--turned-soft);
  color: var(--turned);
  font-weight: 600;
  padding: 0 3px;
}
</style>
