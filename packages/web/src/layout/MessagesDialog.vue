<script setup lang="ts">
import { formatTime } from '../composables/local-dates.ts';
import { useNotices } from '../stores/notices.ts';

/** Every message of this visit, the newest first, with what can still be undone. */
const isOpen = defineModel<boolean>({ required: true });
const notices = useNotices();
</script>

<template>
  <v-dialog v-model="isOpen" max-width="560" scrollable>
    <div class="sheet list">
      <h2>Messages</h2>
      <p v-if="notices.kept.length === 0" class="note">Nothing has been said yet.</p>
      <ul v-else>
        <li v-for="notice in notices.kept" :key="notice.id" :class="{ fault: notice.isFault }">
          <span class="note figures">{{ formatTime(notice.at) }}</span>
          <span
            ><strong>{{ notice.message }}</strong> {{ notice.next }}</span
          >
          <button v-if="notice.action" type="button" @click="notices.act(notice)">
            {{ notice.action.label }}
          </button>
        </li>
      </ul>
      <div><v-btn class="quiet" @click="isOpen = false">Close</v-btn></div>
    </div>
  </v-dialog>
</template>

<style scoped>
.list {
  padding: 18px 20px;
  display: grid;
  gap: 10px;
  overflow-y: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 14px;
  align-items: baseline;
  border-top: 1px solid var(--line);
  padding: 8px 0;
}
li > span:nth-child(2) {
  flex: 1;
  overflow-wrap: anywhere;
}
li button {
  min-height: 40px;
  text-decoration: underline;
  flex: none;
}
</style>
