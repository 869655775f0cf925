<script setup lang="ts">
import type { PublicKeyView } from '@apodix/core';
import { onMounted, ref } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import CannotReach from '../../components/CannotReach.vue';
import { saveText } from '../../composables/save-text.ts';
import AppBar from '../../layout/AppBar.vue';

const key = ref<PublicKeyView | null>(null);
const fault = ref<unknown>(null);
async function read(): Promise<void> {
  fault.value = null;
  key.value = await callRoute('readPublicKey').catch((error: unknown) => {
    fault.value = error;
    return null;
  });
}
onMounted(read);
const inGroups = (digits: string) => digits.match(/.{4}/g)?.join(' ') ?? digits;
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <h1>The key of receipts</h1>
    <p>
      Every receipt is signed with the key of this school. With the public half, which anyone may have, a
      receipt can be checked without Apodix: that not one letter of it was changed, and that this school wrote
      it.
    </p>
    <CannotReach v-if="fault" :fault="fault" @again="read" />
    <section v-if="key" class="sheet">
      <h2>Its short name</h2>
      <p class="figures name" data-testid="fingerprint">{{ inGroups(key.fingerprint) }}</p>
      <p class="note">
        Each receipt shows the short name of the key that it was signed with. Compare the two, or let the
        command line do it:
      </p>
      <p class="figures command">apodix verify receipt.json --key school-key.pem</p>
      <div class="acts">
        <v-btn class="go" height="44" @click="saveText('school-key.pem', key.pem)">Save the key</v-btn>
      </div>
      <details>
        <summary>The key itself ({{ key.algorithm }})</summary>
        <pre class="figures">{{ key.pem }}</pre>
      </details>
    </section>
  </main>
</template>

<style scoped>
.page {
  max-width: 720px;
  margin: 0 auto;
  padding: 26px 20px 60px;
  display: grid;
  gap: 14px;
  width: 100%;
}
.sheet {
  padding: 18px;
  display: grid;
  gap: 10px;
}
.name {
  font-size: 26px;
  font-weight: 700;
}
.command {
  background: var(--paper);
  border-radius: 4px;
  padding: 8px 10px;
  overflow-x: auto;
}
summary {
  min-height: 40px;
  align-content: center;
  cursor: pointer;
}
pre {
  overflow-x: auto;
  font-size: 13px;
}
</style>
