<script setup lang="ts">
import type { TakeView } from '@apodix/core';
import { computed } from 'vue';
import { useMerging } from './useMerging.ts';

/** Taking a lamp out of a piece by other shots of it. */
const props = defineProps<{ take: TakeView }>();
const merging = useMerging(computed(() => props.take));
const { chosen, others, isMerging } = merging;
</script>

<template>
  <section>
    <h2>Take the glare away</h2>
    <p class="note">
      Photograph the piece two or three times from the same place, the lamp moved in between. What shines in
      one is taken from another.
    </p>
    <p v-if="others.length === 0" class="note">Add the other shots under Takes first.</p>
    <template v-else>
      <ol aria-label="Other shots of the same piece">
        <li v-for="other in others" :key="other.id" :class="{ on: chosen.includes(other.id) }">
          <button
            type="button"
            class="shot"
            :aria-pressed="chosen.includes(other.id)"
            @click="merging.choose(other.id)"
          >
            <img v-if="other.posterUrl" :src="other.posterUrl" alt="" /><span>{{ other.name }}</span>
          </button>
        </li>
      </ol>
      <v-btn
        class="quiet"
        :disabled="chosen.length === 0 || isMerging"
        :loading="isMerging"
        @click="merging.merge"
        >Merge into one</v-btn
      >
    </template>
  </section>
</template>

<style scoped src="../tools.css"></style>
<style scoped>
.shot {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 44px;
  padding: 4px 8px;
  text-align: left;
  font-size: 13.5px;
  overflow-wrap: anywhere;
}
.shot img {
  width: 48px;
  height: 36px;
  object-fit: cover;
  border-radius: 2px;
}
</style>
