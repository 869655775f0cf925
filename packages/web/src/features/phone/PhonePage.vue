<script setup lang="ts">
import { cleanDisplayName } from '@apodix/core';
import { useTemplateRef } from 'vue';
import BarsMark from '../../components/BarsMark.vue';
import UploadCard from '../../components/UploadCard.vue';
import CameraStage from '../capture/CameraStage.vue';
import { usePhonePage } from './usePhonePage.ts';

/** What a phone sees that scanned a code: record or choose, and send. */
const { sender, fault, sending, sent, canRecord, isCameraOn, wanted, task, take, onRecorded, end } =
  usePhonePage();
const files = useTemplateRef<HTMLInputElement>('files');
const onFiles = (event: Event) => {
  const input = event.target as HTMLInputElement;
  take([...(input.files ?? [])]);
  input.value = '';
};
</script>

<template>
  <main id="main" class="phone">
    <p class="brand"><BarsMark /> Apodix</p>
    <template v-if="sender">
      <h1>{{ sender.assignmentTitle ?? 'Send a take' }}</h1>
      <p>What you send arrives at once on {{ sender.firstName }}’s computer.</p>
      <CameraStage
        v-if="isCameraOn"
        :task="task"
        :is-practice="false"
        @close="isCameraOn = false"
        @recorded="onRecorded"
        @files="take"
        @bring-in="files?.click()"
      />
      <div v-else class="ways">
        <button v-if="canRecord" type="button" class="way first" @click="isCameraOn = true">
          Record with guides
        </button>
        <label
          v-for="each in wanted"
          :key="each.mode"
          class="way"
          :class="{ first: !canRecord && each.isFirst }"
        >
          {{ each.words }}
          <input type="file" :accept="each.accept" capture="environment" @change="onFiles" />
        </label>
        <label class="way">
          Choose from the phone
          <input
            ref="files"
            type="file"
            multiple
            accept="video/*,audio/*,image/*,.pdf"
            data-testid="phone-file"
            @change="onFiles"
          />
        </label>
      </div>
      <section v-if="sending.length || sent.length" aria-label="What you sent">
        <UploadCard v-for="item in sending" :key="item.key" :item="item" @choose="files?.click()" />
        <p v-for="name in sent" :key="name" class="sent">{{ cleanDisplayName(name, 40) }} has arrived.</p>
      </section>
      <button type="button" class="end" @click="end">I am done on this phone</button>
    </template>
    <template v-else-if="fault">
      <h1>{{ fault.title }}</h1>
      <p>{{ fault.what }}</p>
    </template>
    <v-progress-linear v-else indeterminate color="primary" />
  </main>
</template>

<style scoped>
.phone {
  max-width: 560px;
  margin: 0 auto;
  padding: 18px 16px 60px;
  display: grid;
  gap: 14px;
}
.brand {
  display: flex;
  gap: 8px;
  align-items: center;
  font: 700 18px var(--display);
}
.ways {
  display: grid;
  gap: 10px;
}
.way {
  min-height: 64px;
  border: 1px solid var(--ink);
  border-radius: 6px;
  display: grid;
  place-content: center;
  font-weight: 700;
  font-size: 17px;
  background: var(--sheet);
  position: relative;
  cursor: pointer;
}
.way.first {
  background: var(--met);
  color: var(--paper);
  border-color: var(--met);
}
.way input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}
.way:focus-within {
  outline: 3px solid var(--met);
  outline-offset: 2px;
}
section {
  display: grid;
  gap: 8px;
}
.sent {
  color: var(--met);
  font-weight: 700;
}
.end {
  min-height: 44px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
