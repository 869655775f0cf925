<script setup lang="ts">
import { formatBytes, formatExactBytes, type Finding, type MadeView } from '@apodix/core';
import { computed } from 'vue';

/** What was made, and each row of its proof. */
const props = defineProps<{
  made: MadeView;
  everyMustMet: boolean;
  /** What only a person can tell. */
  left: readonly string[];
  proof: readonly Finding[];
}>();
const title = computed(() => {
  if (!props.everyMustMet) return 'Made, but short';
  return props.left.length > 0 ? 'Made' : 'Made and proven';
});
const sentence = computed(() => {
  if (!props.everyMustMet) return 'A limit falls short. The ledger tells which, and what helps.';
  return props.left.length > 0
    ? `Nothing falls short on this very file. Only you can tell: ${props.left.join(', ')}.`
    : 'Every must was measured again on this very file.';
});
</script>

<template>
  <section class="sheet offer" :class="{ short: !everyMustMet }">
    <div class="line">
      <h2>{{ title }}</h2>
      <strong class="figures" :title="formatExactBytes(made.sizeBytes)">{{
        formatBytes(made.sizeBytes)
      }}</strong>
    </div>
    <p>{{ sentence }}</p>
    <ul v-if="proof.length" class="proof">
      <li v-for="finding in proof" :key="finding.label" :class="finding.state" :title="finding.method">
        <span>{{ finding.label }}</span><span class="figures">{{ finding.figure }}</span
        ><small v-if="finding.state === 'short'">{{ finding.sentence }} {{ finding.fix?.text }}</small>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.offer {
  padding: 12px 14px;
  display: grid;
  gap: 6px;
  border: 2px solid var(--met);
}
.offer.short {
  border-color: var(--madder);
}
h2 {
  font-size: 15.5px;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: baseline;
  flex-wrap: wrap;
}
.proof {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 13.5px;
}
.proof li {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  flex-wrap: wrap;
  border-top: 1px solid var(--line);
  padding: 3px 0;
}
.proof li.short {
  color: var(--madder);
  font-weight: 600;
}
.proof small {
  flex-basis: 100%;
  font-size: 12.5px;
}
</style>
