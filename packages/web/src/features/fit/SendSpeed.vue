<script setup lang="ts">
/** How fast the person's line sends, as typed or as it was measured. */
defineProps<{ measured: number | null }>();
const megabits = defineModel<number>({ required: true });
</script>

<template>
  <label class="speed note"
    >Your internet sends
    <input
      v-model.number="megabits"
      type="number"
      min="0.1"
      step="0.5"
      aria-label="Megabits a second that your internet sends"
    />
    Mbit/s<button v-if="measured && measured !== megabits" type="button" @click="megabits = measured">
      use the measured {{ measured }}
    </button></label
  >
</template>

<style scoped>
.speed {
  display: flex;
  gap: 6px;
  align-items: center;
  flex-wrap: wrap;
  justify-content: center;
}
input {
  width: 64px;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 0 6px;
  background: var(--sheet);
  color: var(--ink);
  font-family: var(--mono);
  text-align: right;
}
button {
  text-decoration: underline;
  min-height: 40px;
  color: var(--ink);
}
</style>
