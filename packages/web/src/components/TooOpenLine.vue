<script setup lang="ts">
import AddressText from './AddressText.vue';

/** What lets more people in than was asked for, whatever else is right. */
defineProps<{ warnings: readonly string[] }>();
</script>

<template>
  <ul class="too-open" aria-label="Too open" data-test="too-open">
    <li v-for="w in warnings" :key="w"><AddressText :text="w" />.</li>
  </ul>
</template>

<style scoped>
.too-open {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 2px 20px 6px 64px;
  padding: 4px 10px;
  border-left: 3px solid var(--shut);
  color: var(--shut);
  font-weight: 600;
  list-style: none;
}
</style>
