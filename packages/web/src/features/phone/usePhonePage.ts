import { orderModes, type AnswerOf, type CaptureMode } from '@apodix/core';
import { computed, onScopeDispose, ref, shallowRef } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { callRoute, CallError } from '../../api/call-route.ts';
import { setSchoolLocale } from '../../composables/local-dates.ts';
import { useNotices } from '../../stores/notices.ts';
import { useUploads } from '../../stores/uploads.ts';
import { openPieceStore } from '../capture/pieces/open-piece-store.ts';
import type { CaptureTask } from '../capture/useCameraStage.ts';

const WAYS: Readonly<Record<CaptureMode, { words: string; accept: string }>> = {
  video: { words: 'Film with the phone’s camera', accept: 'video/*' },
  photo: { words: 'Photograph with the phone’s camera', accept: 'image/*' },
  sound: { words: 'Record sound', accept: 'audio/*' },
};

/** A phone that was let in by a code: for whom it sends, and what is on its way. */
export function usePhonePage() {
  const route = useRoute();
  const router = useRouter();
  const uploads = useUploads();
  const notices = useNotices();
  const sender = shallowRef<AnswerOf<'openPhoneLink'> | null>(null);
  const fault = ref<{ title: string; what: string } | null>(null);
  const sent = ref<readonly string[]>([]);
  const isCameraOn = ref(false);

  async function open(): Promise<void> {
    const token = String(route.params.token ?? '');
    try {
      sender.value = token
        ? await callRoute('openPhoneLink', { body: { token } })
        : await callRoute('readPhoneSender');
      setSchoolLocale(sender.value.locale);
      uploads.sendFor(sender.value.personId);
      // The code is used up; what stays is a page that can be loaded again.
      if (token) await router.replace({ name: 'phone' });
      uploads.recall(sender.value.assignmentId);
    } catch (error) {
      const told = error instanceof CallError ? error.fault : null;
      fault.value = {
        title: told?.message ?? 'The computer cannot be reached.',
        what: told?.next ?? 'Are phone and computer in the same network?',
      };
    }
  }
  function take(files: readonly File[]): void {
    for (const file of files)
      uploads.add(sender.value?.assignmentId ?? null, file, {
        origin: 'phone',
        onDone: () => (sent.value = [file.name, ...sent.value]),
      });
  }
  async function onRecorded(id: string): Promise<void> {
    isCameraOn.value = false;
    const store = openPieceStore();
    const found = (await store.list(sender.value?.personId ?? '')).find((each) => each.id === id);
    if (!found) return;
    const file = await store.read(found);
    uploads.add(sender.value?.assignmentId ?? null, file, {
      origin: 'phone',
      name: found.name,
      onDone: () => {
        sent.value = [found.name, ...sent.value];
        void store.remove(found);
      },
    });
  }
  async function end(): Promise<void> {
    await callRoute('endPhoneLink').catch(notices.tellFault);
    uploads.sendFor(null);
    sender.value = null;
    fault.value = { title: 'Done.', what: 'Nothing of it is left on this phone’s page.' };
  }
  void open();
  onScopeDispose(() => uploads.sendFor(null));

  const modes = computed(() => orderModes(sender.value?.slots ?? []));
  return {
    sender,
    fault,
    sent,
    isCameraOn,
    /** Over plain http a phone's browser gives no camera: there its own camera is used. */
    canRecord: computed(() => window.isSecureContext && navigator.mediaDevices !== undefined),
    wanted: computed(() =>
      modes.value
        .filter((each) => each.isWanted && each.mode !== 'sound')
        .map((each, index) => ({ mode: each.mode, isFirst: index === 0, ...WAYS[each.mode] })),
    ),
    task: computed((): CaptureTask => ({
      ownerId: sender.value?.personId ?? '',
      assignmentId: sender.value?.assignmentId ?? null,
      subject: '',
      limits: sender.value?.limits ?? [],
      slots: sender.value?.slots ?? [],
      title: sender.value?.assignmentTitle ?? 'Recording',
      nextNumber: sent.value.length + 1,
    })),
    sending: computed(() => uploads.items),
    take,
    onRecorded,
    end,
  };
}
