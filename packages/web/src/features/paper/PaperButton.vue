<script setup lang="ts">
import { ref } from 'vue';
import PaperWords from './PaperWords.vue';
import { usePaper } from './usePaper.ts';

/** Takes a PDF, a photograph or a scan of printed instructions, and gives the words that a person has looked over. */
const emit = defineEmits<{ words: [text: string] }>();
const input = ref<HTMLInputElement | null>(null);
const { isOpen, isReading, fault, paper, text, doubtful, page, picture, read, edit, settle, close } =
  usePaper();

function take(): void {
  const file = input.value?.files?.[0];
  if (input.value && file) {
    void read(file);
    input.value.value = '';
  }
}
function keep(): void {
  emit('words', text.value.trim());
  close();
}
</script>

<template>
  <v-btn class="quiet" size="small" height="40" @click="input?.click()">Read it from paper</v-btn>
  <input
    ref="input"
    type="file"
    hidden
    accept="image/*,.heic,.heif,.pdf,application/pdf"
    data-testid="paper-input"
    @change="take"
  />
  <v-dialog :model-value="isOpen" max-width="1120" scrollable @update:model-value="close">
    <div class="sheet paper" role="group" aria-label="What stands on the paper">
      <h2>What stands on the paper</h2>
      <template v-if="isReading">
        <p class="note">Reading the page. A photograph takes some seconds.</p>
        <v-progress-linear indeterminate color="var(--met)" aria-label="Reading the page" />
        <div class="end"><v-btn class="quiet" @click="close">Cancel</v-btn></div>
      </template>
      <template v-else-if="fault">
        <p class="fault" role="alert">
          <strong>{{ fault.message }}</strong> {{ fault.next }}
        </p>
        <div class="end">
          <v-btn class="go" @click="input?.click()">Choose another file</v-btn
          ><v-btn class="quiet" @click="close">Leave it</v-btn>
        </div>
      </template>
      <template v-else-if="paper">
        <div class="both">
          <figure>
            <img v-if="picture" :src="picture" :alt="`Page ${page + 1}`" />
            <figcaption v-if="paper.pages.length > 1" class="note pages">
              <button type="button" :disabled="page === 0" @click="page -= 1">Page before</button
              ><span class="figures">{{ page + 1 }} of {{ paper.pages.length }}</span
              ><button type="button" :disabled="page + 1 >= paper.pages.length" @click="page += 1">
                Next page
              </button>
            </figcaption>
          </figure>
          <PaperWords :text="text" :doubtful="doubtful" @edit="edit" @settle="settle" />
        </div>
        <div class="end">
          <v-btn class="go" :disabled="text.trim() === ''" @click="keep">Use these words</v-btn
          ><v-btn class="quiet" @click="input?.click()">Choose another file</v-btn
          ><v-btn class="quiet" @click="close">Leave it</v-btn>
        </div>
      </template>
    </div>
  </v-dialog>
</template>

<style scoped>
.paper {
  padding: 20px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  min-height: 0;
  overflow-y: auto;
}
.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 18px;
  height: min(62vh, 640px);
}
figure {
  margin: 0;
  min-height: 0;
  display: grid;
  grid-template-rows: 1fr auto;
  gap: 6px;
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: auto;
  background: var(--paper);
}
img {
  width: 100%;
  display: block;
}
.pages {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 10px;
  position: sticky;
  bottom: 0;
  background: var(--sheet);
}
.pages button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.pages button:disabled {
  text-decoration: none;
  opacity: 0.5;
}
.end {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.fault {
  color: var(--madder);
}
@media (max-width: 800px) {
  .both {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
  figure {
    max-height: 26vh;
  }
}
</style>
