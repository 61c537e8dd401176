<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { RouterView } from 'vue-router';
import { useCabinet } from './stores/cabinet.ts';

const cabinet = useCabinet();
const ready = ref(false);
onMounted(async () => {
  await cabinet.start();
  ready.value = true;
});
</script>

<template>
  <p v-if="cabinet.trouble" class="trouble no-print" role="alert">{{ cabinet.trouble }}</p>
  <RouterView v-if="ready" />
  <p v-else class="loading quiet">Opening the cases of this browser …</p>
</template>

<style scoped>
.trouble {
  background: var(--shut-soft);
  color: var(--shut);
  padding: 6px 20px;
  font-weight: 600;
}

.loading {
  padding: 20px;
}
</style>
