<script setup lang="ts">
import { formatExactBytes, type TakeView } from '@apodix/core';
import { computed, ref } from 'vue';
import ProofSign from '../../components/ProofSign.vue';
import AheadLine from './AheadLine.vue';
import BulletBar from './BulletBar.vue';
import { describeBytes } from '../brief/describe-bytes.ts';
import { summarizeLedger, type LedgerRow } from './build-ledger.ts';

const props = defineProps<{
  rows: readonly LedgerRow[];
  isProven: boolean;
  caption: string;
  actionLabel: string | null;
  isActionBusy?: boolean;
  /** The take of which something may be made before it is asked for. */
  ahead?: TakeView | null;
}>();
const emit = defineEmits<{ action: [] }>();
const open = ref<string | null>(null);
const isSheetOpen = ref(false);
const summary = computed(() => summarizeLedger(props.rows, props.isProven));
const isTight = computed(() => props.rows.length > 7);
const isTightest = computed(() => props.rows.length > 9);

function exact(row: LedgerRow): string | undefined {
  return row.best?.unit === 'byte' && row.best.value !== null ? formatExactBytes(row.best.value) : undefined;
}
</script>

<template>
  <aside class="ledger" :class="{ open: isSheetOpen }" aria-label="Limits">
    <button type="button" class="handle" :aria-expanded="isSheetOpen" @click="isSheetOpen = !isSheetOpen">
      <strong>Limits</strong> <span>{{ summary.sentence }}</span>
      <span aria-hidden="true">{{ isSheetOpen ? '▾' : '▴' }}</span>
    </button>
    <div class="head">
      <h2>Limits</h2>
      <span class="note figures">{{ caption }}</span>
    </div>
    <ul :class="{ tight: isTight, tightest: isTightest }">
      <li v-for="row in rows" :key="row.limit.id">
        <button
          type="button"
          class="row"
          :aria-expanded="open === row.limit.id"
          @click="open = open === row.limit.id ? null : row.limit.id"
        >
          <ProofSign
            :measured="row.measured?.state ?? 'open'"
            :planned="row.planned?.state ?? 'open'"
            :proven="row.proven?.state ?? 'open'"
          />
          <span class="what">
            <span class="line"
              ><strong
                >{{ row.label
                }}<span v-if="row.limit.severity === 'should'" class="note"> (should)</span></strong
              ><span class="figure figures" :title="exact(row)">{{
                row.best?.figure ?? (isTight ? row.wanted : '')
              }}</span></span
            >
            <BulletBar
              v-if="row.best?.bullet"
              :scale="row.best.bullet"
              :source="row.best === row.measured ? null : (row.measured?.value ?? null)"
              :is-short="row.best.state === 'short'"
            />
            <span class="sentence" :class="{ short: row.best?.state === 'short' }"
              >{{ row.best?.state === 'short' ? row.best.sentence : row.wanted
              }}<template
                v-if="
                  row.measured &&
                  row.best !== row.measured &&
                  row.measured.figure &&
                  row.measured.figure !== row.best?.figure
                "
              >
                · recording {{ row.measured.figure }}</template
              ></span
            >
          </span>
        </button>
        <div v-if="open === row.limit.id" class="evidence">
          <p v-if="isTight">Wanted: {{ row.wanted }}</p>
          <p v-if="row.limit.words">“{{ row.limit.words }}”</p>
          <p v-if="describeBytes(row.limit)" class="note">{{ describeBytes(row.limit) }}</p>
          <dl>
            <template
              v-for="[name, finding] in [
                ['recording', row.measured],
                ['plan', row.planned],
                ['finished file', row.proven],
              ] as const"
              :key="name"
            >
              <dt>{{ name }}</dt>
              <dd>{{ finding ? `${finding.figure ?? 'not known'} · ${finding.state}` : 'not yet' }}</dd>
            </template>
          </dl>
          <p v-if="row.best" class="note">
            How: {{ row.best.method
            }}<template v-if="row.proven?.measuredOn"> · on the finished file itself</template>
          </p>
          <p v-if="row.best?.fix">
            <strong>{{ row.best.fix.by === 'machine' ? 'Apodix can:' : 'You can:' }}</strong>
            {{ row.best.fix.text }}
          </p>
        </div>
      </li>
    </ul>
    <div class="foot">
      <v-btn
        v-if="actionLabel"
        class="go"
        block
        height="44"
        :loading="isActionBusy"
        @click="emit('action')"
        >{{ actionLabel }}</v-btn
      >
      <AheadLine v-if="ahead" :take="ahead" :is-made="isProven" />
      <p class="note">{{ summary.sentence }}</p>
      <div v-if="summary.forPerson.length" class="person">
        <strong>For you to do</strong>
        <ul>
          <li v-for="text in summary.forPerson.slice(0, 3)" :key="text">{{ text }}</li>
        </ul>
      </div>
    </div>
  </aside>
</template>

<style scoped>
.ledger {
  width: 268px;
  flex: none;
  background: var(--sheet);
  border-right: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.handle {
  display: none;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding: 14px 14px 8px;
}
.head h2 {
  font-size: 16px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0 14px;
  overflow-y: auto;
  flex: 1;
}
li {
  border-top: 1px solid var(--line);
}
.row {
  display: flex;
  gap: 12px;
  width: 100%;
  text-align: left;
  padding: 9px 0;
  align-items: flex-start;
}
.row > svg {
  flex: none;
  margin-top: 2px;
}
.what {
  flex: 1;
  min-width: 0;
  display: block;
}
.line {
  display: flex;
  justify-content: space-between;
  gap: 2px 8px;
  align-items: baseline;
  flex-wrap: wrap;
}
.line strong {
  white-space: nowrap;
}
.figure {
  color: var(--soft-ink);
  font-size: 12.5px;
  text-align: right;
  margin-left: auto;
  letter-spacing: -0.03em;
  overflow-wrap: anywhere;
}
.sentence {
  display: block;
  font-size: 12.5px;
  color: var(--soft-ink);
  line-height: 1.35;
  overflow-wrap: anywhere;
}
.sentence.short {
  color: var(--madder);
  font-weight: 600;
}
.tight .row {
  padding: 6px 0;
}
.tight .sentence:not(.short) {
  display: none;
}
.tight .evidence {
  padding-top: 2px;
}
.tightest .row {
  padding: 3px 0;
}
.tightest .row :deep(.bullet) {
  height: 6px;
  margin: 3px 6px 3px 0;
}
.tightest .line {
  line-height: 1.3;
}
.tightest .sentence.short {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.person {
  text-align: left;
  font-size: 13px;
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
.person ul {
  padding: 0 0 0 16px;
  list-style: disc;
  overflow: visible;
}
.person li {
  border: 0;
}
.evidence {
  padding: 0 0 10px 32px;
  font-size: 13px;
  display: grid;
  gap: 6px;
  overflow-wrap: anywhere;
}
.evidence dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 10px;
  margin: 0;
}
.evidence dt {
  color: var(--soft-ink);
}
.evidence dd {
  margin: 0;
}
.foot {
  padding: 10px 14px 14px;
  text-align: center;
  display: grid;
  gap: 8px;
}
@media (max-width: 1000px) {
  .ledger {
    position: fixed;
    left: 0;
    right: 0;
    bottom: 0;
    width: auto;
    max-height: 78vh;
    border: 0;
    border-top: 1px solid var(--line);
    z-index: 900;
    box-shadow: 0 -6px 20px rgb(0 0 0 / 14%);
  }
  .ledger:not(.open) .head,
  .ledger:not(.open) ul,
  .ledger:not(.open) .foot .note {
    display: none;
  }
  .ledger:not(.open) .foot {
    padding-top: 0;
  }
  .handle {
    display: flex;
    justify-content: space-between;
    gap: 10px;
    padding: 10px 14px;
    min-height: 44px;
    text-align: left;
  }
  .head {
    display: none;
  }
}
</style>
