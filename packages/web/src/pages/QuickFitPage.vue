<script setup lang="ts">
import { describeLimit, readInstructions, type AssignmentCard } from '@apodix/core';
import { computed, onMounted, ref } from 'vue';
import { useRouter } from 'vue-router';
import { callRoute } from '../api/call-route.ts';
import FileDrop from '../components/FileDrop.vue';
import { describePast } from '../composables/describe-due.ts';
import { useNow } from '../composables/useNow.ts';
import AppBar from '../layout/AppBar.vue';
import { useNotices } from '../stores/notices.ts';
import { useSession } from '../stores/session.ts';
import { useUploads } from '../stores/uploads.ts';
import { buildQuickLimits, emptyQuickForm } from './quick-limits.ts';

const session = useSession();
const uploads = useUploads();
const notices = useNotices();
const router = useRouter();
const now = useNow();
const form = ref(emptyQuickForm());
const asks = ref('');
const earlier = ref<readonly AssignmentCard[]>([]);
const isBusy = ref(false);
const formats = [{ title: 'Any', value: '' }, ...['MP4', 'MOV', 'WebM', 'M4A', 'MP3', 'WAV', 'FLAC', 'JPEG', 'PNG', 'WebP'].map((title) => ({ title, value: title.toLowerCase() }))];
const read = computed(() => readInstructions(asks.value));
const built = computed(() => buildQuickLimits(form.value));
const limits = computed(() => [...read.value.limits, ...built.value.limits]);

onMounted(async () => {
  const person = await session.read().catch(() => null);
  if (person) earlier.value = await callRoute('readToday').then((today) => today.assignments.filter((card) => card.kind === 'quick').reverse().slice(0, 5)).catch(() => []);
});

async function begin(files: File[]): Promise<void> {
  if (isBusy.value) return;
  if (built.value.faults.length) return notices.add(built.value.faults[0] ?? '', 'Put it right and drop the file again.', true);
  const first = files[0];
  if (!first) return;
  isBusy.value = true;
  try {
    if (!session.person) await session.signInAsGuest();
    const assignment = await callRoute('createAssignment', { body: { kind: 'quick', title: first.name.slice(0, 160) || 'A file', instructions: asks.value, limits: limits.value, dueAt: null } });
    for (const file of files) await uploads.add(assignment.id, file);
    await router.push({ name: 'takes', params: { assignmentId: assignment.id } });
  } catch (error) {
    notices.tellFault(error);
  } finally {
    isBusy.value = false;
  }
}
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <h1>Quick fit</h1>
    <p class="lead">Say what the file has to meet, drop it, and get a file that fits. No account and no assignment needed.</p>
    <div class="columns">
      <section class="sheet">
        <h2>1 · What it has to meet</h2>
        <label for="asks">In words</label>
        <v-textarea id="asks" v-model="asks" placeholder="MP4, at most 20 MB, no longer than 2 minutes" maxlength="2000" />
        <p v-for="phrase in read.notUnderstood" :key="phrase.start" class="note unread">Not understood: “{{ phrase.text }}”. Set it below.</p>
        <div class="fields">
          <div><label for="format">Format</label><v-select id="format" v-model="form.format" :items="formats" /></div>
          <div><label for="size">At most, in MB</label><v-text-field id="size" v-model="form.maxMegabytes" inputmode="decimal" placeholder="any size" /></div>
          <div><label for="length">No longer than</label><v-text-field id="length" v-model="form.longest" placeholder="2:00" /></div>
          <div><label for="lines">Picture, at most lines</label><v-text-field id="lines" v-model="form.lines" inputmode="numeric" placeholder="1080" /></div>
        </div>
        <p v-for="fault in built.faults" :key="fault" class="note unread">{{ fault }}</p>
        <ul v-if="limits.length" class="read"><li v-for="limit in limits" :key="limit.id"><strong>{{ describeLimit(limit).label }}</strong> <span class="figures">{{ describeLimit(limit).wanted }}</span></li></ul>
      </section>
      <section class="sheet">
        <h2>2 · The file</h2>
        <FileDrop label="Drop a recording or photograph here" note="or choose it" @files="begin" />
        <p class="note">It is measured, a proposal is made, and you see what will happen before anything is made. The file itself is never changed.</p>
        <template v-if="earlier.length"><h2>Earlier</h2><ul class="earlier"><li v-for="card in earlier" :key="card.id"><router-link :to="{ name: card.nextStop, params: { assignmentId: card.id } }">{{ card.title }}</router-link> <span class="note">{{ describePast(card.setAt, now) }} · {{ card.situation }}</span></li></ul></template>
      </section>
    </div>
  </main>
</template>

<style scoped>
.page { max-width: 1080px; margin: 0 auto; padding: 26px 20px 60px; display: grid; gap: 14px; width: 100%; }
.columns { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 18px; align-items: start; }
.sheet { padding: 18px; display: grid; gap: 10px; }
label { font-weight: 700; display: block; padding-bottom: 4px; }
.fields { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; }
.unread { color: var(--madder); }
.read, .earlier { list-style: none; padding: 10px 0 0; margin: 0; border-top: 1px solid var(--line); display: grid; gap: 4px; }
.read li { display: flex; justify-content: space-between; }
@media (max-width: 800px) { .columns { grid-template-columns: minmax(0, 1fr); } }
</style>
