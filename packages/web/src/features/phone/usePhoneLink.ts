import type { AnswerOf } from '@apodix/core';
import QRCode from 'qrcode';
import { computed, ref, shallowRef, watch } from 'vue';
import { callRoute } from '../../api/call-route.ts';
import { useNow } from '../../composables/useNow.ts';
import { useNotices } from '../../stores/notices.ts';

/** A link for a phone with its code as a picture, made when it is asked for. */
export function usePhoneLink(isOpen: () => boolean, assignmentId: () => string | null) {
  const notices = useNotices();
  const now = useNow();
  const link = shallowRef<AnswerOf<'makePhoneLink'> | null>(null);
  const picture = ref<string | null>(null);

  async function make(): Promise<void> {
    [link.value, picture.value] = [null, null];
    try {
      const made = await callRoute('makePhoneLink', { body: { assignmentId: assignmentId() } });
      const [address] = made.addresses;
      picture.value = address ? await QRCode.toDataURL(address, { width: 520, margin: 3 }) : null;
      link.value = made;
    } catch (error) {
      notices.tellFault(error);
    }
  }
  watch(isOpen, (isNow) => isNow && void make());
  const leftMs = computed(() => (link.value ? Date.parse(link.value.expiresAt) - now.value : 0));
  return {
    link,
    picture,
    make,
    minutesLeft: computed(() => Math.max(1, Math.ceil(leftMs.value / 60_000))),
    isEnded: computed(() => link.value !== null && leftMs.value <= 0),
  };
}
