<script setup lang="ts">
import { ref } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { useNotices } from '../../stores/notices.ts';

/** Due times for the person's own calendar: saved once, or subscribed to. */
const notices = useNotices();
const address = ref<string | null>(null);

async function findAddress(): Promise<string | null> {
  try {
    const { path } = await callRoute('readCalendarLink');
    return new URL(path, window.location.origin).href;
  } catch (error) {
    notices.tellFault(error);
    return null;
  }
}
async function save(): Promise<void> {
  const found = await findAddress();
  if (found) window.location.assign(found);
}
async function show(): Promise<void> {
  address.value = address.value === null ? await findAddress() : null;
}
async function copy(): Promise<void> {
  if (address.value === null) return;
  await navigator.clipboard
    .writeText(address.value)
    .then(() => notices.add('The address is copied.', 'Paste it into your calendar as a subscription.'))
    .catch(() => notices.add('It could not be copied.', 'Mark the address and copy it by hand.', true));
}
</script>

<template>
  <section class="sheet links" aria-label="Calendar">
    <h2>In your calendar</h2>
    <div class="acts">
      <v-btn class="quiet" size="small" height="40" @click="save">Save as file</v-btn
      ><v-btn class="quiet" size="small" height="40" :aria-expanded="address !== null" @click="show"
        >Subscribe</v-btn
      >
    </div>
    <template v-if="address">
      <p class="note">
        Add this address to your calendar as a subscription; it stays up to date. Whoever has it sees your due
        times, so keep it to yourself.
      </p>
      <input
        :value="address"
        readonly
        aria-label="Calendar address"
        class="figures"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <v-btn class="quiet" size="small" height="40" @click="copy">Copy the address</v-btn>
    </template>
  </section>
</template>

<style scoped>
.links {
  padding: 14px 16px;
  display: grid;
  gap: 10px;
}
h2 {
  font-size: 16px;
}
.acts {
  display: flex;
  gap: 8px;
}
input {
  width: 100%;
  border: 1px solid var(--line);
  border-radius: 4px;
  min-height: 40px;
  padding: 0 8px;
  font-size: 12.5px;
  background: var(--paper);
  color: var(--ink);
}
</style>
