<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { formatInstant } from '../../composables/local-dates.ts';
import { useNotices } from '../../stores/notices.ts';

/** Due times for the person's own calendar, at an address that is told once and can be ended. */
const notices = useNotices();
const madeAt = ref<string | null>(null);
const address = ref<string | null>(null);

async function read(): Promise<void> {
  madeAt.value = (await callRoute('readCalendarLink')).madeAt;
}
// Where it cannot be read, Today says so itself.
onMounted(() => read().catch(() => undefined));

async function make(): Promise<void> {
  try {
    const made = await callRoute('makeCalendarLink');
    address.value = new URL(made.path, window.location.origin).href;
    madeAt.value = made.madeAt;
  } catch (error) {
    notices.tellFault(error);
  }
}
async function end(): Promise<void> {
  try {
    await callRoute('removeCalendarLink');
    [address.value, madeAt.value] = [null, null];
    notices.add('The calendar address works no longer.', 'Make a new one whenever you like.');
  } catch (error) {
    notices.tellFault(error);
  }
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
    <p v-if="madeAt && !address" class="note">
      Your calendar address was made {{ formatInstant(madeAt) }}. It is not shown again; a new one ends it.
    </p>
    <p v-else-if="!address" class="note">
      With an address of your own, your calendar shows every due time and stays up to date.
    </p>
    <template v-if="address">
      <p class="note">
        Add this address to your calendar as a subscription. Whoever has it sees your due times, so keep it to
        yourself.
      </p>
      <input
        :value="address"
        readonly
        aria-label="Calendar address"
        class="figures"
        @focus="($event.target as HTMLInputElement).select()"
      />
    </template>
    <div class="acts">
      <template v-if="address">
        <v-btn class="quiet" size="small" height="40" @click="copy">Copy the address</v-btn
        ><v-btn class="quiet" size="small" height="40" :href="address">Save as file</v-btn>
      </template>
      <v-btn v-else class="quiet" size="small" height="40" @click="make">{{
        madeAt ? 'Make a new address' : 'Make the address'
      }}</v-btn>
      <v-btn v-if="madeAt" class="quiet" size="small" height="40" @click="end">End it</v-btn>
    </div>
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
  flex-wrap: wrap;
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
