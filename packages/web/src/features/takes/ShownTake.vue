<script setup lang="ts">
import { cleanDisplayName, isStillKind, type TakeView } from '@apodix/core';
import { computed } from 'vue';

/** The take that is being worked on, large, as it was recorded; turned round where that was asked for. */
const props = defineProps<{ take: TakeView }>();
const isFlipped = computed(() => props.take.recipe?.recipe.picture.isMirrored ?? false);
</script>

<template>
  <div class="surround">
    <img
      v-if="isStillKind(take.kind) && take.proxyUrl"
      :class="{ flipped: isFlipped }"
      :src="take.proxyUrl"
      alt="The photograph as it was brought in"
    />
    <video
      v-else-if="take.kind === 'video' && take.proxyUrl"
      :key="take.id"
      :class="{ flipped: isFlipped }"
      :src="take.proxyUrl"
      controls
      preload="metadata"
      playsinline
    />
    <audio v-else-if="take.proxyUrl" :key="`a${take.id}`" :src="take.proxyUrl" controls />
    <p class="caption">
      {{ cleanDisplayName(take.name, 60) }} · {{ isFlipped ? 'left and right exchanged' : 'as recorded' }}
    </p>
  </div>
</template>

<style scoped>
.surround {
  flex: 1;
  min-height: 200px;
  background: var(--surround);
  display: grid;
  place-content: center;
  justify-items: center;
  padding: 16px;
  position: relative;
  overflow: hidden;
  grid-template-rows: minmax(0, 1fr);
}
img,
video {
  max-width: 100%;
  max-height: 100%;
  min-height: 0;
  object-fit: contain;
}
.flipped {
  transform: scaleX(-1);
}
.caption {
  position: absolute;
  left: 16px;
  top: 14px;
  background: rgb(0 0 0 / 62%);
  color: #fff;
  padding: 4px 10px;
  border-radius: 4px;
  font-size: 13px;
  max-width: calc(100% - 32px);
  overflow-wrap: anywhere;
}
@media (max-width: 1000px) {
  .surround {
    flex: none;
    height: 46vh;
  }
}
</style>
