<script setup lang="ts">
/** Where takes are looked for by name. */
const words = defineModel<string>({ required: true });
</script>

<template>
  <input
    v-model="words"
    type="search"
    class="search"
    aria-label="Search takes by name"
    placeholder="search by name"
  />
</template>

<style scoped>
.search {
  border: 1px solid var(--line);
  border-radius: 4px;
  min-height: 40px;
  padding: 0 10px;
  width: 190px;
  background: var(--sheet);
  color: inherit;
}
</style>
