<script setup lang="ts">
import { describeLimit, findFreeId, Limit, type Conflict, type LimitKind } from '@apodix/core';
import { computed, ref } from 'vue';
import { limitForms, limitKindOptions } from './limit-fields.ts';
import LimitForm from './LimitForm.vue';

/** Limits that can be looked at, corrected, added and removed; pointing at one lights its words elsewhere. */
const props = defineProps<{
  limits: readonly Limit[];
  lit?: string | null;
  conflicts?: readonly Conflict[];
  /** Limits of the person's own reading, beside those that the course set. */
  ownIds?: readonly string[];
  title: string;
}>();
const emit = defineEmits<{ change: [limits: Limit[], what: string]; light: [id: string | null] }>();
const openId = ref<string | null>(null);
const fresh = ref<Limit | null>(null);
const isAdding = ref(false);
const rows = computed(() =>
  props.limits.map((limit) => ({
    limit,
    ...describeLimit(limit),
    conflict: props.conflicts?.find((each) => each.limitIds.includes(limit.id)) ?? null,
  })),
);
/** Said only where the limits are about more than one kind of file. */
const hasTargets = computed(
  () => new Set(props.limits.map((limit) => limit.appliesTo).filter((target) => target !== 'any')).size > 1,
);
const targetWords = {
  any: '',
  video: 'videos',
  photo: 'photographs',
  sound: 'sound',
  document: 'documents',
} as const;

/** What a limit is about: a kind of file, or what goes into one slot. */
function writeTarget(target: string): string {
  return target in targetWords
    ? targetWords[target as keyof typeof targetWords]
    : target.replace(/^slot:/, '').replace(/[-_]/g, ' ');
}

function keep(next: Limit): void {
  openId.value = null;
  fresh.value = null;
  const isThere = props.limits.some((limit) => limit.id === next.id);
  emit(
    'change',
    isThere ? props.limits.map((limit) => (limit.id === next.id ? next : limit)) : [...props.limits, next],
    isThere ? `Changed: ${describeLimit(next).label}` : `Added: ${describeLimit(next).label}`,
  );
}
function remove(id: string): void {
  openId.value = null;
  const gone = props.limits.find((limit) => limit.id === id);
  emit(
    'change',
    props.limits.filter((limit) => limit.id !== id),
    gone ? `Removed: ${describeLimit(gone).label}` : '',
  );
}
function turn(limit: Limit): void {
  keep({ ...limit, severity: limit.severity === 'must' ? 'should' : 'must', isChangedByPerson: true });
}
function add(kind: LimitKind): void {
  isAdding.value = false;
  const id = findFreeId(`own-${kind}`, new Set(props.limits.map((limit) => limit.id)));
  const start =
    kind === 'due'
      ? { at: `${new Date(Date.now() + 7 * 86_400_000).toISOString().slice(0, 10)}T16:00` }
      : limitForms[kind].start;
  fresh.value = Limit.parse({ id, kind, isChangedByPerson: true, ...start });
}
</script>

<template>
  <div class="list">
    <header>
      <h2>{{ title }}</h2>
      <v-menu v-model="isAdding">
        <template #activator="{ props: activator }"
          ><button type="button" class="add" v-bind="activator">Add one</button></template
        >
        <v-list density="compact" max-height="420"
          ><v-list-item
            v-for="option in limitKindOptions"
            :key="option.value"
            :title="option.title"
            @click="add(option.value)"
        /></v-list>
      </v-menu>
    </header>
    <div v-if="fresh" class="fresh">
      <strong>{{ limitForms[fresh.kind].title }}</strong><LimitForm
        :key="fresh.id"
        :limit="fresh"
        is-new
        @keep="keep"
        @close="fresh = null"
      />
    </div>
    <p v-if="rows.length === 0 && !fresh" class="note none">
      No limits yet: any file will do. Add one if something is asked for.
    </p>
    <ul>
      <li
        v-for="row in rows"
        :key="row.limit.id"
        :class="{ lit: lit === row.limit.id }"
        @mouseenter="emit('light', row.limit.id)"
        @mouseleave="emit('light', null)"
      >
        <button
          type="button"
          class="row"
          :aria-expanded="openId === row.limit.id"
          @click="openId = openId === row.limit.id ? null : row.limit.id"
          @focus="emit('light', row.limit.id)"
          @blur="emit('light', null)"
        >
          <strong
            >{{ row.label
            }}<span v-if="hasTargets && row.limit.appliesTo !== 'any'" class="note target">{{
              writeTarget(row.limit.appliesTo)
            }}</span></strong
          ><span class="figures wanted">{{ row.wanted }}</span>
        </button>
        <div class="sub note">
          <span class="words"
            ><template v-if="row.limit.words">“{{ row.limit.words }}”</template
            ><template v-if="ownIds?.includes(row.limit.id)"> <span class="own">yours</span></template
            ><template v-else-if="row.limit.isChangedByPerson">
              <span class="own">changed by you</span></template
            ></span
          >
          <button
            type="button"
            class="severity"
            :aria-label="`${row.label}: ${row.limit.severity}. Press to change.`"
            @click="turn(row.limit)"
          >
            {{ row.limit.severity }} <span aria-hidden="true">⇄</span>
          </button>
        </div>
        <p v-if="row.conflict" class="conflict" role="alert">
          {{ row.conflict.message }} {{ row.conflict.possible }}
        </p>
        <LimitForm
          v-if="openId === row.limit.id"
          :limit="row.limit"
          @keep="keep"
          @remove="remove(row.limit.id)"
          @close="openId = null"
        />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.list {
  display: grid;
  align-content: start;
  min-height: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 14px 14px 6px;
}
header h2 {
  font-size: 17px;
  margin: 0;
}
.add {
  min-height: 40px;
  padding: 0 8px;
  color: var(--soft-ink);
  text-decoration: underline;
  text-underline-offset: 3px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li,
.fresh {
  border-top: 1px solid var(--line);
  padding: 8px 14px;
  border-left: 3px solid transparent;
}
li.lit {
  background: color-mix(in srgb, var(--met) 8%, transparent);
  border-left-color: var(--met);
}
.row {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  width: 100%;
  text-align: left;
  min-height: 40px;
  align-items: baseline;
}
.target {
  margin-left: 7px;
  font-weight: 400;
}
.wanted {
  text-align: right;
  overflow-wrap: anywhere;
}
.sub {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  align-items: baseline;
  font-size: 12.5px;
}
.words {
  overflow-wrap: anywhere;
}
.own {
  color: var(--met);
  font-weight: 600;
}
.severity {
  flex: none;
  min-height: 40px;
  padding: 0 2px 0 10px;
}
.conflict {
  color: var(--madder);
  font-weight: 600;
  font-size: 13px;
  padding-top: 4px;
}
.none {
  padding: 4px 14px 14px;
}
/* Twelve limits at a glance, where a pointer is fine enough. */
@media (pointer: fine) {
  .row {
    min-height: 26px;
  }
  .severity {
    min-height: 28px;
  }
}
</style>
