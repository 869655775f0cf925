type Mutation = (bytes: Buffer, random: () => number) => Buffer;

const pick = (random: () => number, below: number) => Math.floor(random() * below);
/** Numbers that readers trip over. */
const EDGES = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0x80000000, 0xffffffff] as const;

/** Ways to spoil a file, each by numbers of its own. */
export const mutations: Readonly<Record<string, Mutation>> = {
  'flip bits': (bytes, random) => {
    const copy = Buffer.from(bytes);
    for (let times = 1 + pick(random, 40); times > 0; times -= 1) {
      const at = pick(random, copy.length);
      copy[at] = (copy[at] ?? 0) ^ (1 << pick(random, 8));
    }
    return copy;
  },
  'flip bits of the head': (bytes, random) => {
    const copy = Buffer.from(bytes);
    const reach = Math.min(copy.length, 600);
    for (let times = 1 + pick(random, 8); times > 0; times -= 1) {
      const at = 12 + pick(random, Math.max(1, reach - 12));
      if (at < copy.length) copy[at] = (copy[at] ?? 0) ^ (1 << pick(random, 8));
    }
    return copy;
  },
  'cut short': (bytes, random) => bytes.subarray(0, pick(random, bytes.length)),
  'leave a part out': (bytes, random) => {
    const at = pick(random, bytes.length);
    return Buffer.concat([bytes.subarray(0, at), bytes.subarray(at + 1 + pick(random, 4000))]);
  },
  'say a part twice': (bytes, random) => {
    const at = pick(random, bytes.length);
    const part = bytes.subarray(at, at + 1 + pick(random, 4000));
    return Buffer.concat([bytes.subarray(0, at), part, bytes.subarray(at)]);
  },
  'put in an edge number': (bytes, random) => {
    const copy = Buffer.from(bytes);
    for (let times = 1 + pick(random, 4); times > 0; times -= 1) {
      const at = pick(random, Math.max(1, copy.length - 4));
      const value = EDGES[pick(random, EDGES.length)] ?? 0;
      if (random() < 0.5) copy.writeUInt32BE(value, at);
      else copy.writeUInt32LE(value, at);
    }
    return copy;
  },
  'fill with noise': (bytes, random) => {
    const copy = Buffer.from(bytes);
    const at = pick(random, copy.length);
    const finish = Math.min(copy.length, at + 1 + pick(random, 2000));
    for (let index = at; index < finish; index += 1) copy[index] = pick(random, 256);
    return copy;
  },
  'exchange two parts': (bytes, random) => {
    const size = 1 + pick(random, 1000);
    if (bytes.length < 3 * size) return Buffer.from(bytes).reverse();
    const [first, second] = [pick(random, bytes.length - size), pick(random, bytes.length - size)].sort(
      (a, b) => a - b,
    ) as [number, number];
    const copy = Buffer.from(bytes);
    bytes.copy(copy, first, second, second + size);
    bytes.copy(copy, second, first, first + size);
    return copy;
  },
};
