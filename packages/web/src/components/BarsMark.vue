<script setup lang="ts">
/** The mark: three stacked bars. */
defineProps<{ size?: number }>();
</script>

<template>
  <svg :width="size ?? 20" :height="size ?? 20" viewBox="0 0 20 20" aria-hidden="true">
    <rect width="20" height="6" fill="rgb(var(--v-theme-primary))" />
    <rect y="7" width="20" height="6" fill="currentColor" />
    <rect y="14" width="20" height="6" fill="currentColor" />
  </svg>
</template>
