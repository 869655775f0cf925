<script setup lang="ts">
import { readInstructions, rereadLimits, type AssignmentCard, type Limit } from '@apodix/core';
import { computed, onMounted, ref, watch } from 'vue';
import { useRouter } from 'vue-router';
import { callRoute } from '../../api/call-route.ts';
import { collectConflicts } from '../brief/collect-conflicts.ts';
import LimitList from '../brief/LimitList.vue';
import { readLocalNow } from '../brief/local-now.ts';
import FileDrop from '../../components/FileDrop.vue';
import { describePast } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import AppBar from '../../layout/AppBar.vue';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { useUploads } from '../../stores/uploads.ts';

const session = useSession();
const uploads = useUploads();
const notices = useNotices();
const router = useRouter();
const now = useNow();
const asks = ref('');
const limits = ref<Limit[]>([]);
const earlier = ref<readonly AssignmentCard[]>([]);
const isBusy = ref(false);
const read = computed(() => readInstructions(asks.value, { now: readLocalNow() }));
const conflicts = computed(() => collectConflicts(read.value, limits.value, readLocalNow()));
watch(read, (next) => (limits.value = rereadLimits(limits.value, next.limits)));

onMounted(async () => {
  const person = await session.read().catch(() => null);
  if (person)
    earlier.value = await callRoute('readToday')
      .then((today) =>
        today.assignments
          .filter((card) => card.kind === 'quick')
          .reverse()
          .slice(0, 5),
      )
      .catch(() => []);
});

async function begin(files: File[]): Promise<void> {
  const first = files[0];
  if (!first || isBusy.value) return;
  isBusy.value = true;
  try {
    if (!session.person) await session.signInAsGuest();
    const assignment = await callRoute('createAssignment', {
      body: {
        kind: 'quick',
        title: first.name.slice(0, 160).trim() || 'A file',
        instructions: asks.value,
        limits: limits.value,
        dueAt: null,
      },
    });
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
    <p class="lead">
      Say what the file has to meet, drop it, and get a file that fits. No account and no assignment needed.
    </p>
    <div class="columns">
      <section class="sheet">
        <h2>1 · What it has to meet</h2>
        <div>
          <label for="asks">In words</label
          ><v-textarea
            id="asks"
            v-model="asks"
            rows="3"
            max-rows="10"
            placeholder="Paste what the teacher wrote, or: MP4, at most 20 MB, no longer than 2 minutes"
            maxlength="200000"
          />
        </div>
        <p v-for="phrase in read.notUnderstood.slice(0, 4)" :key="phrase.start" class="note unread">
          Not understood: “{{ phrase.text.slice(0, 140) }}”
        </p>
        <p v-for="conflict in conflicts" :key="conflict.message" class="clash" role="alert">
          <strong>{{ conflict.message }}</strong> {{ conflict.possible }}
        </p>
        <LimitList
          class="limits"
          :limits="limits"
          :conflicts="[]"
          title="Limits"
          @change="(next) => (limits = next)"
        />
      </section>
      <section class="sheet">
        <h2>2 · The file</h2>
        <FileDrop label="Drop a recording or photograph here" note="or choose it" @files="begin" />
        <p class="note">
          It is measured, a proposal is made, and you see what will happen before anything is made. The file
          itself is never changed.
        </p>
        <template v-if="earlier.length"
          ><h2>Earlier</h2>
          <ul class="earlier">
            <li v-for="card in earlier" :key="card.id">
              <router-link :to="{ name: card.nextStop, params: { assignmentId: card.id } }">{{
                card.title
              }}</router-link>
              <span class="note">{{ describePast(card.setAt, now) }} · {{ card.situation }}</span>
            </li>
          </ul></template
        >
      </section>
    </div>
  </main>
</template>

<style scoped>
.page {
  max-width: 1080px;
  margin: 0 auto;
  padding: 26px 20px 60px;
  display: grid;
  gap: 14px;
  width: 100%;
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 18px;
  align-items: start;
}
.sheet {
  padding: 18px;
  display: grid;
  gap: 10px;
}
label {
  font-weight: 700;
  display: block;
  padding-bottom: 4px;
}
.unread {
  color: var(--saffron);
  font-weight: 600;
}
.clash {
  color: var(--madder);
}
.limits {
  margin: 0 -18px -18px;
  border-top: 1px solid var(--line);
}
.earlier {
  list-style: none;
  padding: 10px 0 0;
  margin: 0;
  border-top: 1px solid var(--line);
  display: grid;
  gap: 4px;
  overflow-wrap: anywhere;
}
@media (max-width: 800px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
