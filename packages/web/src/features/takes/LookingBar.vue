<script setup lang="ts">
import JobBar from '../../components/JobBar.vue';

/** That a take is being looked at, on this device, for what the limits want to see. */
defineProps<{ running: { readonly name: string; readonly share: number } }>();
const emit = defineEmits<{ skip: [] }>();
</script>

<template>
  <div class="looking" data-testid="looking">
    <JobBar
      :stage="`Looking for face and hands in ${running.name}, on this device alone`"
      :share="running.share"
      :seconds-left="null"
      can-cancel
      @cancel="emit('skip')"
    />
  </div>
</template>

<style scoped>
.looking {
  max-width: 560px;
  margin-bottom: 10px;
}
</style>
