<script setup lang="ts">
import type { VerdictView } from '@bright-ferry/core/views';
import AddressText from './AddressText.vue';
import LampMark from './LampMark.vue';
import { useSelection } from '../stores/selection.ts';
import { shortName } from '../lib/shortName.ts';

defineProps<{ verdict: VerdictView; small?: boolean }>();
const selection = useSelection();
</script>

<template>
  <section class="verdict" :class="[verdict.lamp, { small }]" aria-live="polite" aria-label="Verdict">
    <LampMark
      :lamp="verdict.lamp"
      :beyond="verdict.lamp === 'lit' && !verdict.sure"
      :size="small ? 22 : 30"
    />
    <div>
      <component :is="small ? 'h3' : 'h1'" class="headline" data-test="headline"
        ><AddressText :text="verdict.headline"
      /></component>
      <p class="detail quiet">
        <AddressText :text="verdict.detail" />
        <template v-if="!small"
          ><button
            v-for="s in verdict.evidence"
            :key="`${s.file}:${s.line}`"
            type="button"
            class="link rests"
            data-test="rests-on"
            @click="selection.shownSource = s"
          >
            {{ shortName(s.file) }}, line {{ s.line }}
          </button></template
        >
      </p>
      <p v-if="!small && verdict.assumed.length > 0" class="assumed quiet" data-test="assumed">
        Taken for granted: <AddressText :text="verdict.assumed.join('; ')" />.
      </p>
    </div>
  </section>
</template>

<style scoped>
.verdict {
  display: flex;
  gap: 14px;
  padding: 12px 20px 6px;
  align-items: flex-start;
}

.headline {
  font-size: 20px;
  line-height: 1.25;
  font-weight: 600;
  text-wrap: pretty;
}

.detail {
  margin-top: 2px;
}

.assumed {
  margin-top: 2px;
  font-size: 12px;
}

.rests {
  margin-left: 10px;
  color: var(--ink-soft);
}

.small {
  padding: 0 20px 4px;
  gap: 8px;
}

.small .headline {
  font-size: 15px;
}
</style>
