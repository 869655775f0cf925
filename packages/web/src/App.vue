<script setup lang="ts">
import { useNotices } from './stores/notices.ts';

const notices = useNotices();
</script>

<template>
  <v-app>
    <a class="skip" href="#main">Skip to the content</a>
    <router-view />
    <div class="notices" role="status" aria-live="polite">
      <div
        v-for="notice in notices.shown"
        :key="notice.id"
        class="notice"
        :class="{ fault: notice.isFault }"
        @mouseenter="notices.pause(notice.id)"
        @mouseleave="notices.resume(notice.id)"
        @focusin="notices.pause(notice.id)"
        @focusout="notices.resume(notice.id)"
      >
        <div class="words">
          <strong>{{ notice.message }}</strong> {{ notice.next }}
        </div>
        <button v-if="notice.action" type="button" class="act" @click="notices.act(notice)">
          {{ notice.action.label }}
        </button>
        <button type="button" @click="notices.dismiss(notice.id)">Close</button>
      </div>
    </div>
  </v-app>
</template>

<style scoped>
.skip {
  position: absolute;
  left: -999px;
  top: 0;
  background: var(--ink);
  color: var(--paper);
  padding: 10px 14px;
  z-index: 3000;
}
.skip:focus {
  left: 0;
}
.notices {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 16px;
  display: grid;
  gap: 8px;
  justify-items: center;
  z-index: 2500;
  pointer-events: none;
  padding: 0 12px;
}
.notice {
  pointer-events: auto;
  display: flex;
  gap: 12px;
  align-items: center;
  max-width: 680px;
  background: var(--ink);
  color: var(--paper);
  border-radius: 6px;
  padding: 8px 10px 8px 16px;
}
.words {
  overflow-wrap: anywhere;
}
.notice.fault {
  background: var(--madder-soft);
  color: var(--ink);
  border: 1px solid var(--madder);
}
.notice button {
  min-height: 40px;
  padding: 0 10px;
  text-decoration: underline;
  text-underline-offset: 3px;
  flex: none;
}
.notice .act {
  font-weight: 700;
}
</style>
