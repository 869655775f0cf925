<script setup lang="ts">
import { ref } from 'vue';
import { keyActions, writeKey, type KeyAction } from '../keys/key-actions.ts';
import { useKeySettings } from '../keys/key-settings.ts';

/** All keys, each to be changed; single ones can be switched off. */
const isOpen = defineModel<boolean>({ required: true });
const settings = useKeySettings();
const asked = ref<KeyAction | null>(null);
const actions = Object.keys(keyActions) as KeyAction[];
const NO_KEYS = ['Tab', 'Enter', 'Shift', 'Control', 'Alt', 'Meta'];

function onKey(event: KeyboardEvent): void {
  if (asked.value === null || NO_KEYS.includes(event.key) || event.ctrlKey || event.metaKey) return;
  event.preventDefault();
  event.stopPropagation();
  const action = asked.value;
  asked.value = null;
  if (event.key !== 'Escape')
    settings.change(action, event.key.length === 1 ? event.key.toLowerCase() : event.key);
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="480" scrollable>
    <div class="sheet help" @keydown="onKey">
      <h2>Keys</h2>
      <v-switch
        :model-value="settings.isOn"
        label="Single keys do something"
        hide-details
        color="primary"
        @update:model-value="settings.setOn($event === true)"
      />
      <ul :class="{ off: !settings.isOn }">
        <li v-for="action in actions" :key="action">
          <span>{{ keyActions[action].words }}</span>
          <button
            type="button"
            class="figures"
            :aria-label="`${keyActions[action].words}: ${writeKey(settings.keyOf(action))}. Change the key`"
            @click="asked = action"
          >
            {{ asked === action ? 'press a key' : writeKey(settings.keyOf(action)) }}
          </button>
        </li>
        <li><span>undo</span><kbd class="figures">Ctrl+Z</kbd></li>
        <li><span>redo</span><kbd class="figures">Ctrl+Shift+Z</kbd></li>
      </ul>
      <div class="acts">
        <v-btn class="quiet" :disabled="!settings.isChanged" @click="settings.reset()"
          >The usual keys again</v-btn
        ><v-btn class="quiet" @click="isOpen = false">Close</v-btn>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
.help {
  padding: 18px 20px;
  display: grid;
  gap: 8px;
  overflow-y: auto;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  border-top: 1px solid var(--line);
}
.off button {
  opacity: 0.5;
}
li button,
kbd {
  min-width: 76px;
  min-height: 40px;
  text-align: right;
  font-weight: 700;
}
li button {
  text-decoration: underline;
  text-underline-offset: 4px;
}
kbd {
  line-height: 40px;
  font-size: 14px;
}
.acts {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding-top: 6px;
}
</style>
