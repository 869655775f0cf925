<script setup lang="ts">
import { ref } from 'vue';

/** Notes that the work was given to the teacher without the course site. */
const isOpen = defineModel<boolean>({ required: true });
const emit = defineEmits<{ note: [note: string] }>();
const words = ref('');
function keep(): void {
  if (words.value.trim() === '') return;
  emit('note', words.value.trim());
  isOpen.value = false;
  words.value = '';
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="560">
    <form class="sheet ask" @submit.prevent="keep">
      <label for="by-hand">How did you give it to your teacher?</label>
      <p class="note">
        Apodix only notes what you say here. There is no receipt, because the course site has not seen it.
      </p>
      <v-textarea
        id="by-hand"
        v-model="words"
        rows="3"
        maxlength="1000"
        autofocus
        placeholder="On a memory stick, in the lesson on Thursday"
      />
      <div class="acts">
        <v-btn class="go" type="submit" :disabled="words.trim() === ''">Note it</v-btn
        ><v-btn class="quiet" @click="isOpen = false">Leave it</v-btn>
      </div>
    </form>
  </v-dialog>
</template>

<style scoped>
.ask {
  padding: 20px;
  display: grid;
  gap: 10px;
}
label {
  font: 700 18px var(--display);
}
.acts {
  display: flex;
  gap: 10px;
}
</style>
