<script setup lang="ts">
import { RouterLink } from 'vue-router';

defineProps<{ title: string; line?: string; opens?: boolean }>();
defineEmits<{ open: [] }>();
</script>

<template>
  <header class="top no-print">
    <RouterLink to="/" class="brand" aria-label="Bright Ferry, to the newest case"
      ><img src="/ferry.svg" alt="" width="26" height="26" /><strong>Bright Ferry</strong></RouterLink
    >
    <button
      v-if="opens"
      type="button"
      class="what heard"
      data-test="heard"
      title="Put right what was heard (c)"
      @click="$emit('open')"
    >
      <strong>{{ title }}</strong> <span v-if="line" class="quiet">{{ line }}</span>
    </button>
    <p v-else class="what">
      <strong>{{ title }}</strong> <span v-if="line" class="quiet">{{ line }}</span>
    </p>
    <nav aria-label="Main"><slot /></nav>
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 7px 20px;
  border-bottom: 1px solid var(--line);
}

.heard {
  border: 0;
  background: none;
  padding: 2px 0;
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.heard:hover strong {
  text-decoration: underline;
}

.brand {
  display: flex;
  align-items: center;
  gap: 8px;
  text-decoration: none;
  font-size: 16px;
}

.what {
  flex: 1;
  min-width: 0;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

nav {
  display: flex;
  gap: 14px;
  align-items: center;
  white-space: nowrap;
}

nav :deep(a),
nav :deep(.link) {
  text-decoration: none;
}

nav :deep(.link:disabled) {
  color: var(--ink-soft);
  cursor: default;
}

nav :deep(a:hover),
nav :deep(.link:hover:enabled) {
  text-decoration: underline;
}

@media (max-width: 900px) {
  header {
    flex-wrap: wrap;
  }

  nav {
    flex-wrap: wrap;
    white-space: normal;
  }
}
</style>
