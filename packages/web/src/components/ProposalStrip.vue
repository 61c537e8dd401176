<script setup lang="ts">
import type { ContradictionView, ProposalView } from '@bright-ferry/core/views';
import { computed, ref } from 'vue';
import { copyText } from '../lib/download.ts';
import { useEdits } from '../stores/edits.ts';
import { useSelection } from '../stores/selection.ts';
import AddressText from './AddressText.vue';
import { shortName } from '../lib/shortName.ts';

/**
 * What the evidence suggests about the case itself, and what it says twice and differently: one at a time,
 * the rest on request.
 */
const props = defineProps<{
  proposals: readonly ProposalView[];
  contradictions: readonly ContradictionView[];
}>();
const edits = useEdits();
const selection = useSelection();
const all = ref(false);
const copied = ref<string | null>(null);

type Item = {
  readonly key: string;
  readonly proposal?: ProposalView;
  readonly contradiction?: ContradictionView;
};
const items = computed((): Item[] => {
  // A slip that can be taken back is said once, with its button.
  const slips = new Set(
    props.proposals.flatMap((p) => (p.proposal.kind === 'typed-slip' ? [p.proposal.typed] : [])),
  );
  return [
    ...props.proposals.map((p) => ({ key: p.proposal.id, proposal: p })),
    ...props.contradictions
      .filter((c) => !c.sides.some((s) => s.typed && slips.has(s.value)))
      .map((c) => ({ key: c.text, contradiction: c })),
  ];
});
const shown = computed(() => (all.value ? items.value : items.value.slice(0, 1)));

async function copy(c: ContradictionView): Promise<void> {
  copied.value = (await copyText(
    [c.settle.message, ...c.settle.commands.slice(0, 1).map((x) => `\n    ${x.text}`)].join('\n'),
  ))
    ? c.text
    : null;
}
</script>

<template>
  <section v-if="items.length > 0" class="strip" aria-label="From the evidence">
    <div v-for="item in shown" :key="item.key" class="item" data-test="proposal">
      <template v-if="item.proposal">
        <span
          ><strong>{{
            item.proposal.proposal.kind === 'stop' ? 'Another stop?' : 'From the evidence:'
          }}</strong>
          <AddressText :text="item.proposal.text"
        /></span>
        <span class="acts">
          <button
            type="button"
            class="link strong"
            data-test="accept-proposal"
            @click="edits.answer(item.proposal.proposal, true)"
          >
            {{ item.proposal.accept }}
          </button>
          <button
            type="button"
            class="link"
            data-test="refuse-proposal"
            @click="edits.answer(item.proposal.proposal, false)"
          >
            {{ item.proposal.refuse }}
          </button>
          <button
            v-for="s in item.proposal.proposal.evidence.slice(0, 2)"
            :key="`${s.file}:${s.line}`"
            type="button"
            class="link quiet"
            @click="selection.shownSource = s"
          >
            {{ shortName(s.file) }}, line {{ s.line }}
          </button>
        </span>
      </template>
      <template v-else-if="item.contradiction">
        <span
          ><strong>Contradiction.</strong> <AddressText :text="item.contradiction.text" />
          {{ item.contradiction.consequence }} To settle it, ask for:
          {{ item.contradiction.settle.title }}.</span
        >
        <span class="acts">
          <button type="button" class="link strong" @click="copy(item.contradiction)">
            {{ copied === item.contradiction.text ? 'Copied' : 'Copy words for the owner' }}
          </button>
          <button
            v-for="s in item.contradiction.sides"
            :key="s.value"
            type="button"
            class="link quiet"
            @click="selection.shownSource = s.source"
          >
            {{ s.value }}
          </button>
        </span>
      </template>
    </div>
    <button
      v-if="items.length > 1"
      type="button"
      class="link quiet more"
      :aria-expanded="all"
      data-test="more-proposals"
      @click="all = !all"
    >
      {{ all ? 'one at a time' : `and ${items.length - 1} more` }}
    </button>
  </section>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: baseline;
  padding: 5px 20px 5px 16px;
  border-left: 4px solid var(--turned);
  background: var(--turned-soft);
  max-height: 30vh;
  overflow-y: auto;
}

.item {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  align-items: baseline;
}

.acts {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}

.strong {
  font-weight: 600;
}
</style>
