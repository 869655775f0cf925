<script setup lang="ts">
import { cleanDisplayName, isStillKind } from '@apodix/core';
import { computed, ref, useTemplateRef } from 'vue';
import FileDrop from '../../components/FileDrop.vue';
import { useNow } from '../../composables/useNow.ts';
import { useWork } from '../../stores/work.ts';
import LedgerColumn from '../ledger/LedgerColumn.vue';
import { useTakeWork } from '../work/useTakeWork.ts';
import TakeCard from './TakeCard.vue';
import UploadCard from './UploadCard.vue';
import UseTakeDialog from './UseTakeDialog.vue';
import { useTakesPage } from './useTakesPage.ts';

const work = useWork();
const now = useNow();
const drop = useTemplateRef<InstanceType<typeof FileDrop>>('drop');
const { take: shown, rows, made, caption } = useTakeWork();
const { view, sending, bringIn, shape, remove, leave } = useTakesPage();
const isUseOpen = ref(false);
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
        <button type="button" @click="isUseOpen = true">Use a take that is here already</button>
      </div>
      <div class="row">
        <UploadCard v-for="item in sending" :key="item.key" :item="item" @choose="drop?.choose()" />
        <TakeCard
          v-for="take in work.takes"
          :key="take.id"
          :take="take"
          :is-shown="take.id === shown?.id"
          :job="work.findJob(take.id, 'inspect')"
          :now="now"
          @shape="shape(take)"
          @remove="remove(take)"
          @leave="leave(take)"
        />
        <FileDrop
          ref="drop"
          class="drop"
          label="Drop recordings or photographs here"
          note="or choose them"
          @files="bringIn"
        />
      </div>
    </div>
    <UseTakeDialog v-model="isUseOpen" />
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
.head button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.head h2 {
  font-size: 15px;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(320px, 1fr));
  gap: 12px;
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
