import { ref } from 'vue';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

/**
 * Signs in whose card was shown, on a page that is loaded anew: nothing of who was there before is left on
 * it.
 */
export function useCardSignIn(goTo: () => string) {
  const session = useSession();
  const notices = useNotices();
  const isBusy = ref(false);
  const refused = new Set<string>();

  async function onCard(code: string): Promise<void> {
    if (isBusy.value || refused.has(code)) return;
    isBusy.value = true;
    try {
      const isAnother = await session.signInByCard(code);
      if (isAnother) window.location.assign(goTo());
      else isBusy.value = false;
    } catch (error) {
      refused.add(code);
      isBusy.value = false;
      notices.tellFault(error);
    }
  }
  return { isBusy, onCard };
}
