<script setup lang="ts">
import { addWords } from '../paper/add-words.ts';
import PaperButton from '../paper/PaperButton.vue';

/** The text of what was asked for, to be corrected or pasted; null while it is closed. */
const text = defineModel<string | null>({ required: true });
const emit = defineEmits<{ keep: [] }>();
</script>

<template>
  <v-dialog :model-value="text !== null" max-width="760" @update:model-value="text = null">
    <form v-if="text !== null" class="sheet ask" @submit.prevent="emit('keep')">
      <h2>What was asked for</h2>
      <label for="brief-text" class="note"
        >Correct or paste the text. The limits are read from it again; what you changed yourself stays.</label
      ><v-textarea id="brief-text" v-model="text" rows="9" maxlength="200000" />
      <div class="acts">
        <v-btn class="go" type="submit">Read it again</v-btn
        ><v-btn class="quiet" @click="text = null">Leave it</v-btn
        ><PaperButton @words="text = addWords(text, $event)" />
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  padding: 20px;
  display: grid;
  gap: 14px;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
