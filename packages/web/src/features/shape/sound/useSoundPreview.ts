import { HUM_HARMONICS, HUM_Q, RUMBLE_HZ, type Recipe } from '@apodix/core';
import { onScopeDispose, watch, type ComputedRef, type Ref } from 'vue';

type Sound = Recipe['sound'];

/**
 * Sides, filters, gain and time of the recipe on what plays; a limiter and fades are heard in the
 * file alone.
 */
export function useSoundPreview(
  element: Readonly<Ref<HTMLMediaElement | null>>,
  sound: ComputedRef<Sound | null>,
  isPlaying: Readonly<Ref<boolean>>,
): void {
  let context: AudioContext | null = null;
  const sources = new WeakMap<HTMLMediaElement, MediaElementAudioSourceNode>();
  let nodes: AudioNode[] = [];

  /** Browsers let sound begin only after a press: the graph is built when it first plays. */
  function build(): void {
    const [own, wish] = [element.value, sound.value];
    if (!own || !isPlaying.value || typeof AudioContext === 'undefined') return;
    const isNeeded = wish !== null && needsGraph(wish);
    if (!isNeeded && !sources.has(own)) return;
    context ??= new AudioContext();
    void context.resume();
    const source = sources.get(own) ?? context.createMediaElementSource(own);
    sources.set(own, source);
    for (const node of [source, ...nodes]) node.disconnect();
    nodes = wish ? connect(context, source, wish) : [];
    (nodes.at(-1) ?? source).connect(context.destination);
  }
  watch([element, sound, isPlaying], build);
  onScopeDispose(() => void context?.close());
}

const needsGraph = (sound: Sound) =>
  sound.gainDb !== 0 ||
  sound.sides !== 'as-recorded' ||
  sound.laterUs > 0 ||
  sound.isRumbleCut ||
  sound.humHz !== null;

function connect(context: AudioContext, source: AudioNode, wish: Sound): AudioNode[] {
  const nodes: AudioNode[] = [];
  let last = source;
  const add = <Node extends AudioNode>(node: Node): Node => {
    last.connect(node);
    last = node;
    nodes.push(node);
    return node;
  };
  if (wish.sides !== 'as-recorded') {
    const splitter = add(context.createChannelSplitter(2));
    const merger = context.createChannelMerger(2);
    const sides = { left: [0], right: [1], mixed: [0, 1] }[wish.sides];
    const share = context.createGain();
    share.gain.value = 1 / sides.length;
    for (const side of sides) splitter.connect(share, side);
    share.connect(merger, 0, 0);
    share.connect(merger, 0, 1);
    nodes.push(share, merger);
    last = merger;
  }
  const filter = (type: BiquadFilterType, hz: number, q: number) => add(buildFilter(context, type, hz, q));
  // Q of a high pass is told in dB there.
  if (wish.isRumbleCut) for (const q of [0.5412, 1.3066]) filter('highpass', RUMBLE_HZ, 20 * Math.log10(q));
  if (wish.humHz !== null)
    for (let harmonic = 1; harmonic <= HUM_HARMONICS; harmonic += 1)
      filter('notch', wish.humHz * harmonic, HUM_Q);
  add(context.createGain()).gain.value = 10 ** (wish.gainDb / 20);
  if (wish.laterUs > 0) add(context.createDelay(1)).delayTime.value = wish.laterUs / 1e6;
  return nodes;
}

function buildFilter(context: AudioContext, type: BiquadFilterType, hz: number, q: number): BiquadFilterNode {
  const node = context.createBiquadFilter();
  node.type = type;
  node.frequency.value = hz;
  node.Q.value = q;
  return node;
}
