<script setup lang="ts">
import type { StopDetail } from '@bright-ferry/core/views';
import { formOf } from '@bright-ferry/core/devices';
import { ElButton } from 'element-plus/es/components/button/index.mjs';
import { computed, reactive } from 'vue';
import { useDeviceForm } from '../lib/deviceForm.ts';
import ChoiceField from './ChoiceField.vue';
import DeviceField from './DeviceField.vue';
import DeviceRows from './DeviceRows.vue';
import { shortName } from '../lib/shortName.ts';

/**
 * What is known of a device that prints no rules, in its own kind of words. It begins with what the evidence
 * shows; what stays empty counts as not known.
 */
const props = defineProps<{ stop: StopDetail }>();
const form = reactive(useDeviceForm(props));

const kindChoices = computed(() =>
  form.kinds.map((k) => ({
    value: k,
    label: formOf(k).title.charAt(0).toLowerCase() + formOf(k).title.slice(1),
  })),
);
</script>

<template>
  <form class="device" data-test="device-form" @submit.prevent="form.keep">
    <p class="kind">
      <span>It is a</span>
      <ChoiceField
        v-model="form.kind"
        :choices="kindChoices"
        label="What kind of device it is"
        :width="300"
        data-test="device-kind"
        @chosen="form.choose"
      />
      <span class="quiet">{{ form.spec.explains }}</span>
    </p>
    <p v-if="form.isUnkept" class="quiet" data-test="device-unkept">
      Not kept yet.
      <button type="button" class="link" @click="form.startAnew">Begin again from what is known</button>
    </p>
    <p v-else-if="form.isSuggested && stop.suggested" class="quiet" data-test="device-suggested">
      As {{ stop.suggested.files.map(shortName).join(', ') }} shows it. Keep it to hold it true instead of the
      listing.
    </p>
    <p v-else-if="form.isOtherThanShown && stop.suggested" class="other" data-test="device-other">
      Held true as it was filled in by hand; {{ stop.suggested.files.map(shortName).join(', ') }} shows
      something else.
      <button type="button" class="link" data-test="take-shown" @click="form.takeShown">
        Hold true what it shows
      </button>
    </p>
    <p v-if="form.problem ?? stop.settingsProblem" class="problem" role="alert" data-test="device-problem">
      {{ form.problem ?? stop.settingsProblem }}
    </p>
    <fieldset v-for="t in form.spec.tables" :key="t.key">
      <legend>
        {{ t.label }} <span v-if="t.hint" class="quiet">{{ t.hint }}</span>
      </legend>
      <DeviceRows
        v-model="form.values"
        :kind="form.kind"
        :table="t"
        :stop="stop"
        :problems="form.problems"
        :shown="form.shownRows[t.key] ?? []"
      />
    </fieldset>
    <div class="fields">
      <DeviceField
        v-for="f in form.spec.fields"
        :key="f.key"
        v-model="form.values.fields[f.key]"
        :field="f"
        :label="f.label"
        :form="form.values"
        :stop="stop"
        :problem="form.problems[f.key]"
        :test="`field-${f.key}`"
      />
    </div>
    <p class="buttons">
      <ElButton type="primary" native-type="submit" data-test="keep-device">Keep</ElButton>
      <ElButton v-if="stop.settings" data-test="forget-device" @click="form.forget"
        >Take the settings away</ElButton
      >
    </p>
  </form>
</template>

<style scoped>
.device {
  display: flex;
  flex-direction: column;
  gap: 8px;
}

.kind {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}

fieldset {
  border: 0;
  border-top: 1px solid var(--line);
  padding: 2px 0 0;
  margin: 0;
  min-width: 0;
}

legend {
  font-weight: 600;
  padding: 0 8px 0 0;
}

.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 6px 20px;
  border-top: 1px solid var(--line);
  padding-top: 6px;
}

/* What is brought into view, by a key or a click, stays clear of the buttons that stand above it. */
.device :deep(:is(button, input, [tabindex])) {
  scroll-margin-bottom: 60px;
}

.buttons {
  position: sticky;
  bottom: -12px;
  background: var(--paper);
  padding: 6px 0;
}

.problem {
  background: var(--shut-soft);
  color: var(--shut);
  padding: 4px 8px;
}

.other {
  background: var(--now);
  padding: 4px 8px;
}
</style>
