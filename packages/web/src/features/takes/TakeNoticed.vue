<script setup lang="ts">
import { noticeTake, type TakeView } from '@apodix/core';
import { computed, ref } from 'vue';

/** What was noticed of a take, a line each, with what Apodix will do about it. */
const props = defineProps<{ take: TakeView }>();
const SHOWN = 3;
const isOpen = ref(false);
const noticed = computed(() => (props.take.facts ? noticeTake(props.take.facts) : []));
const shown = computed(() => (isOpen.value ? noticed.value : noticed.value.slice(0, SHOWN)));
</script>

<template>
  <ul v-if="noticed.length" class="noticed">
    <li v-for="each in shown" :key="each.code" :class="{ loss: each.isLoss }">
      <strong>{{ each.what }}</strong> {{ each.then }}
    </li>
    <li v-if="noticed.length > SHOWN">
      <button type="button" @click="isOpen = !isOpen">
        {{ isOpen ? 'fewer' : `${noticed.length - SHOWN} more` }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 2px 0;
  padding: 0;
  display: grid;
  gap: 2px;
  font-size: 13px;
}
li.loss strong {
  color: var(--madder);
}
button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
@media (pointer: fine) {
  button {
    min-height: 26px;
  }
}
</style>
