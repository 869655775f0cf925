<script setup lang="ts">
import { cleanDisplayName, formatBytes } from '@apodix/core';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { queryClient, queryKeys } from '../../api/query-client.ts';
import CannotReach from '../../components/CannotReach.vue';
import FileDrop from '../../components/FileDrop.vue';
import AppBar from '../../layout/AppBar.vue';
import { useNotices } from '../../stores/notices.ts';
import { useUploads } from '../../stores/uploads.ts';
import OwnTakeCard from './OwnTakeCard.vue';
import { searchTakes } from './search-takes.ts';
import TakeSearch from './TakeSearch.vue';
import UploadCard from '../../components/UploadCard.vue';
import { useOwnTakes } from './useOwnTakes.ts';

const uploads = useUploads();
const notices = useNotices();
const drop = useTemplateRef<InstanceType<typeof FileDrop>>('drop');
const { takes, room, isLoaded, fault, readAgain } = useOwnTakes();
const search = ref('');
const found = computed(() => searchTakes(takes.value, search.value));
const sending = computed(() => uploads.items.filter((item) => item.assignmentId === null));
onMounted(() => uploads.recall(null));

async function remove(takeId: string, name: string): Promise<void> {
  try {
    await callRoute('removeTake', { params: { takeId } });
    notices.addWithUndo(`${cleanDisplayName(name, 40)} is removed.`, () =>
      callRoute('restoreTake', { params: { takeId } }),
    );
    await queryClient.invalidateQueries({ queryKey: queryKeys.takes });
  } catch (error) {
    notices.tellFault(error);
  }
}
const bringIn = (files: readonly File[]) => files.forEach((file) => uploads.add(null, file));
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <div class="top">
      <h1>My takes</h1>
      <p v-if="room" class="note figures">
        {{ formatBytes(room.usedBytes) }} of {{ formatBytes(room.quotaBytes) }} used
      </p>
    </div>
    <p class="lead">
      Everything you have brought in, whichever assignment it is for. A take can serve several, or none yet.
    </p>
    <TakeSearch v-if="takes.length > 3" v-model="search" />
    <p v-if="search && found.length === 0" class="note">No take is called that.</p>
    <CannotReach v-if="fault" :fault="fault" @again="readAgain" />
    <div class="row">
      <UploadCard v-for="item in sending" :key="item.key" :item="item" @choose="drop?.choose()" />
      <OwnTakeCard v-for="take in found" :key="take.id" :take="take" @remove="remove(take.id, take.name)" />
      <FileDrop
        ref="drop"
        label="Bring in a take for nothing yet"
        :note="
          isLoaded && takes.length === 0
            ? 'You have none so far. Drop a file here'
            : 'drop it here, or choose it'
        "
        @files="bringIn"
      />
    </div>
  </main>
</template>

<style scoped>
.page {
  max-width: 1180px;
  margin: 0 auto;
  padding: 22px 20px 60px;
  display: grid;
  gap: 12px;
  width: 100%;
}
.top {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 16px;
  flex-wrap: wrap;
}
.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
  gap: 12px;
}
@media (max-width: 600px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
