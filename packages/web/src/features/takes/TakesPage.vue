<script setup lang="ts">
import { cleanDisplayName, formatBytes, type TakeView, isStillKind } from '@apodix/core';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import FileDrop from '../../components/FileDrop.vue';
import JobBar from '../../components/JobBar.vue';
import { describeFacts, describeRemarks } from '../../components/describe-take.ts';
import { describePast } from '../../composables/describe-due.ts';
import { useNow } from '../../composables/useNow.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import { useNotices } from '../../stores/notices.ts';
import { useUploads } from '../../stores/uploads.ts';
import { useWork } from '../../stores/work.ts';
import { useTakeWork } from '../work/useTakeWork.ts';

const work = useWork();
const uploads = useUploads();
const notices = useNotices();
const router = useRouter();
const now = useNow();
const drop = ref<InstanceType<typeof FileDrop> | null>(null);
const { take: chosen, rows, made, caption } = useTakeWork();
const view = computed(() => work.assignment);
const sending = computed(() => uploads.items.filter((item) => item.assignmentId === view.value?.id));
const shown = computed(() => chosen.value);

function bringIn(files: File[]): void {
  if (!view.value) return;
  for (const file of files) {
    if (file.size === 0)
      notices.add(
        `${cleanDisplayName(file.name, 40)} has nothing in it: 0 bytes.`,
        'Copy it from the phone or camera again.',
        true,
      );
    else void uploads.add(view.value.id, file);
  }
}
async function choose(take: TakeView): Promise<void> {
  await work.chooseTake(take.id).catch(notices.tellFault);
}
async function shape(take: TakeView): Promise<void> {
  if (!take.isChosen || work.readyTakes.filter((each) => each.isChosen).length > 1) await choose(take);
  await router.push({ name: 'shape', params: { assignmentId: view.value?.id } });
}
async function remove(take: TakeView): Promise<void> {
  if (
    take.state === 'ready' &&
    !window.confirm(
      `Remove ${cleanDisplayName(take.name, 40)}? The copy in Apodix is deleted; the one on your phone stays.`,
    )
  )
    return;
  await work.removeTake(take.id).catch(notices.tellFault);
}
const action = computed(() => (work.readyTakes.length ? 'Shape this take' : 'Bring in a file'));
function onAction(): void {
  if (shown.value) void shape(shown.value);
  else drop.value?.choose();
}
</script>

<template>
  <LedgerColumn
    :rows="rows"
    :is-proven="made !== null"
    :caption="caption"
    :action-label="action"
    @action="onAction"
  />
  <div v-if="view" class="stage">
    <div class="surround">
      <template v-if="shown">
        <img
          v-if="isStillKind(shown.kind) && shown.proxyUrl"
          :src="shown.proxyUrl"
          alt="The photograph as it was brought in"
        />
        <video
          v-else-if="shown.kind === 'video' && shown.proxyUrl"
          :key="shown.id"
          :src="shown.proxyUrl"
          controls
          preload="metadata"
          playsinline
        />
        <audio v-else-if="shown.proxyUrl" :key="`a${shown.id}`" :src="shown.proxyUrl" controls />
        <p class="caption">{{ cleanDisplayName(shown.name, 60) }} · as recorded</p>
      </template>
      <div v-else class="empty">
        <h2>Bring in what you recorded</h2>
        <p>
          A video, a sound recording or a photograph, straight from the phone or camera. Nothing has to be
          converted first.
        </p>
      </div>
    </div>
    <div class="takes">
      <div class="head">
        <h2>Takes so far</h2>
        <span class="note">newest first · drop files anywhere</span>
      </div>
      <div class="row">
        <article v-for="item in sending" :key="item.key" class="sheet card">
          <div class="body">
            <strong>{{ cleanDisplayName(item.name, 40) }}</strong>
            <template v-if="item.state === 'waiting-for-file'"
              ><p>The upload was interrupted. Choose the same file again: it goes on where it stopped.</p>
              <div class="acts">
                <button type="button" @click="drop?.choose()">Choose it again</button
                ><button type="button" @click="uploads.cancel(item.key)">Forget it</button>
              </div></template
            >
            <template v-else>
              <JobBar
                :stage="
                  item.state === 'paused'
                    ? 'Paused'
                    : item.state === 'failed'
                      ? 'Stopped'
                      : item.state === 'done'
                        ? 'Here'
                        : `Sending ${formatBytes(item.sizeBytes)}`
                "
                :share="item.sizeBytes ? item.sentBytes / item.sizeBytes : 0"
                :seconds-left="null"
              />
              <div v-if="item.state !== 'done'" class="acts">
                <button v-if="item.state === 'sending'" type="button" @click="uploads.pause(item.key)">
                  Pause</button
                ><button v-else type="button" @click="uploads.resume(item.key)">Go on</button
                ><button type="button" @click="uploads.cancel(item.key)">Cancel</button>
              </div>
            </template>
          </div>
        </article>
        <article
          v-for="take in work.takes"
          :key="take.id"
          class="sheet card"
          :class="{ chosen: take.id === shown?.id }"
        >
          <img v-if="take.posterUrl" :src="take.posterUrl" alt="" />
          <div class="body">
            <strong class="name">{{ cleanDisplayName(take.name, 40) }}</strong>
            <template v-if="take.state === 'ready' && take.facts">
              <p class="figures facts">{{ describeFacts(take.facts) }}</p>
              <p class="note">
                {{ [describePast(take.createdAt, now), ...describeRemarks(take.facts)].join(' · ') }}
              </p>
              <div class="acts">
                <button type="button" class="main" @click="shape(take)">
                  {{ take.id === shown?.id ? 'Shape this take ›' : 'Use instead' }}</button><button
                  type="button"
                  @click="remove(take)"
                >
                  Remove
                </button>
              </div>
            </template>
            <template v-else-if="take.state === 'inspecting'">
              <JobBar
                :stage="work.findJob(take.id, 'inspect')?.stage ?? 'Waiting for a free place'"
                :share="work.findJob(take.id, 'inspect')?.share ?? 0"
                :seconds-left="work.findJob(take.id, 'inspect')?.secondsLeft ?? null"
              />
              <div class="acts"><button type="button" @click="remove(take)">Stop and remove</button></div>
            </template>
            <template v-else>
              <p class="fault">
                <strong>Cannot be used.</strong> {{ take.fault?.message }} {{ take.fault?.detail }}
              </p>
              <p>{{ take.fault?.next }}</p>
              <div class="acts"><button type="button" @click="remove(take)">Remove</button></div>
            </template>
          </div>
        </article>
        <FileDrop
          ref="drop"
          class="drop"
          label="Drop recordings or photographs here"
          note="or choose them"
          @files="bringIn"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.stage {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.surround {
  flex: 1;
  min-height: 200px;
  background: var(--surround);
  display: grid;
  place-content: center;
  justify-items: center;
  padding: 16px;
  position: relative;
  overflow: hidden;
  grid-template-rows: minmax(0, 1fr);
}
.surround img,
.surround video {
  max-width: 100%;
  max-height: 100%;
  min-height: 0;
  object-fit: contain;
}
.caption {
  position: absolute;
  left: 16px;
  top: 14px;
  background: rgb(0 0 0 / 62%);
  color: #fff;
  padding: 4px 10px;
  border-radius: 4px;
  font-size: 13px;
  max-width: calc(100% - 32px);
  overflow-wrap: anywhere;
}
.empty {
  background: var(--sheet);
  border-radius: 6px;
  padding: 24px 28px;
  max-width: 460px;
  display: grid;
  gap: 6px;
  text-align: center;
  align-self: center;
}
.takes {
  background: var(--sheet);
  border-top: 1px solid var(--line);
  padding: 12px 16px 16px;
  max-height: 46%;
  overflow-y: auto;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  margin-bottom: 10px;
}
.head h2 {
  font-size: 15px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(320px, 1fr));
  gap: 12px;
}
.card {
  display: flex;
  gap: 12px;
  padding: 9px;
}
.card.chosen {
  border: 2px solid var(--met);
  padding: 8px;
}
.card img {
  width: 130px;
  height: 90px;
  object-fit: cover;
  border-radius: 3px;
  flex: none;
  background: var(--track);
}
.body {
  flex: 1;
  min-width: 0;
  display: grid;
  gap: 3px;
  align-content: start;
}
.name,
.card strong {
  overflow-wrap: anywhere;
}
.facts {
  font-size: 13px;
  color: var(--soft-ink);
}
.fault {
  color: var(--madder);
}
.acts {
  display: flex;
  gap: 14px;
  flex-wrap: wrap;
}
.acts button {
  min-height: 32px;
  font-weight: 600;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
.acts .main {
  color: var(--met);
  font-weight: 700;
  text-decoration: none;
}
@media (max-width: 1000px) {
  .takes {
    max-height: none;
    padding-bottom: 130px;
  }
  .row {
    grid-template-columns: minmax(0, 1fr);
  }
  .surround {
    flex: none;
    height: 46vh;
  }
}
</style>
