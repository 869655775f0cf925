<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core';
import { useTemplateRef } from 'vue';

/** Stands where a list goes on: shows more when the person comes to it, or presses it. */
const props = defineProps<{ rest: number; isByItself?: boolean }>();
const emit = defineEmits<{ more: [] }>();
const button = useTemplateRef<HTMLElement>('button');
useIntersectionObserver(button, ([entry]) => {
  if (props.isByItself && entry?.isIntersecting) emit('more');
});
</script>

<template>
  <button v-if="rest > 0" ref="button" type="button" @click="emit('more')">
    {{ rest === 1 ? 'Show one more' : `Show ${rest} more` }}
  </button>
</template>

<style scoped>
button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
  justify-self: start;
}
</style>
