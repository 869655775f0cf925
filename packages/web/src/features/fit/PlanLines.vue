<script setup lang="ts">
/** A plan as names and figures. */
defineProps<{ lines: readonly (readonly [string, string])[] }>();
</script>

<template>
  <dl>
    <template v-for="[name, figure] in lines" :key="name"
      ><dt>{{ name }}</dt>
      <dd class="figures">{{ figure }}</dd></template
    >
  </dl>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 18px;
  margin: 0;
  align-content: start;
}
dt {
  color: var(--soft-ink);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
