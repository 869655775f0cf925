<script setup lang="ts">
import { usePhoneLink } from './usePhoneLink.ts';

/** A code for a phone: it opens a page there that sends takes here. */
const isOpen = defineModel<boolean>({ required: true });
const props = defineProps<{ assignmentId: string | null }>();
const { link, picture, minutesLeft, isEnded, make } = usePhoneLink(
  () => isOpen.value,
  () => props.assignmentId,
);
</script>

<template>
  <v-dialog v-model="isOpen" max-width="560">
    <div class="sheet phone" data-testid="phone-dialog">
      <h2>Send it from a phone</h2>
      <template v-if="link?.isReachable && picture && !isEnded">
        <p>
          Point the phone’s camera at this code. The page that opens there records or sends files; they arrive
          here.
        </p>
        <img :src="picture" alt="Code with the address of the page for the phone" width="260" height="260" />
        <p class="note">
          For one phone, once, within {{ minutesLeft }} min. Phone and computer have to be in the same
          network.
        </p>
        <p class="note address">{{ link.addresses[0] }}</p>
      </template>
      <template v-else-if="link && !link.isReachable">
        <p>
          This Apodix answers only on the computer that it runs on. Whoever runs it can let phones of the same
          network in, by starting it with <code>npm start -- --lan</code>.
        </p>
        <p class="note">Until then: copy the file from the phone by cable or cloud, and drop it here.</p>
      </template>
      <p v-else-if="isEnded">The code has run out.</p>
      <v-progress-linear v-else indeterminate color="primary" />
      <div class="acts">
        <v-btn v-if="isEnded" class="go" color="primary" @click="make">New code</v-btn>
        <v-btn class="quiet" @click="isOpen = false">Close</v-btn>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.phone {
  padding: 20px;
  display: grid;
  gap: 12px;
}
img {
  justify-self: center;
  background: #fff;
  border-radius: 4px;
}
.address {
  overflow-wrap: anywhere;
  text-align: center;
}
code {
  background: var(--track);
  padding: 1px 5px;
  border-radius: 3px;
}
.acts {
  display: flex;
  gap: 8px;
}
</style>
