<script setup lang="ts">
import {
  cleanDisplayName,
  containerTable,
  formatBytes,
  isEveryMustMet,
  isLeftToPerson,
  type MadeView,
  type Plan,
  type PlanResult,
  type TakeView,
} from '@apodix/core';
import ProofSign from '../../components/ProofSign.vue';
import type { SignStates } from '../../components/read-sign.ts';

export interface TakeRow {
  readonly take: TakeView;
  readonly result: PlanResult | null;
  readonly made: MadeView | null;
  /** What was found of it at each stage. */
  readonly sign: SignStates;
  /** Share of the job that makes it, where one runs. */
  readonly share: number | null;
}
defineProps<{ rows: readonly TakeRow[]; pickedId: string | null; unmade: number }>();
const emit = defineEmits<{ pick: [takeId: string]; makeAll: [] }>();

function describeForm(plan: Plan): string {
  const { label } = containerTable[plan.container];
  const size = plan.kind === 'video' ? plan.cut : plan.kind === 'photo' ? plan : null;
  return size ? `${label}, ${size.widthPx}×${size.heightPx}` : label;
}

function describeState(row: TakeRow): string {
  if (row.share !== null) return `being made, ${Math.round(row.share * 100)} %`;
  if (row.made) {
    if (!isEveryMustMet(row.made.findings)) return 'made, but short';
    const left = row.made.findings.filter(isLeftToPerson).length;
    return left > 0 ? `made, ${left} left to you` : 'made and proven';
  }
  return row.result?.plan ? 'not made yet' : 'cannot be made';
}
</script>

<template>
  <section class="sheet table">
    <div class="head">
      <h2>{{ rows.length }} takes</h2>
      <v-btn v-if="unmade > 0" class="go" height="40" @click="emit('makeAll')">{{
        unmade === 1 ? 'Make the one left' : `Make all ${unmade}`
      }}</v-btn>
    </div>
    <div class="scroll">
      <table>
        <thead>
          <tr>
            <th scope="col">Take</th>
            <th scope="col">Becomes</th>
            <th scope="col" class="end">Recording</th>
            <th scope="col" class="end">File</th>
            <th scope="col">State</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.take.id" :class="{ on: row.take.id === pickedId }">
            <th scope="row">
              <button
                type="button"
                :aria-pressed="row.take.id === pickedId"
                @click="emit('pick', row.take.id)"
              >
                <img v-if="row.take.posterUrl" :src="row.take.posterUrl" alt="" /><span>{{
                  cleanDisplayName(row.take.name, 28)
                }}</span>
              </button>
            </th>
            <td class="figures">
              {{ row.result?.plan ? describeForm(row.result.plan) : '–' }}
            </td>
            <td class="figures end">{{ formatBytes(row.take.sizeBytes) }}</td>
            <td class="figures end">
              {{
                row.made
                  ? formatBytes(row.made.sizeBytes)
                  : row.result?.plan
                    ? `about ${formatBytes(row.result.plan.prediction.bytes)}`
                    : '–'
              }}
            </td>
            <td>
              <span class="state"><ProofSign v-bind="row.sign" :size="16" />{{ describeState(row) }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.table {
  padding: 12px 14px;
  display: grid;
  gap: 8px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 10px;
}
.head h2 {
  font-size: 16px;
}
.scroll {
  overflow: auto;
  max-height: 230px;
}
table {
  border-collapse: collapse;
  width: 100%;
  font-size: 14px;
}
th,
td {
  text-align: left;
  padding: 4px 8px;
  border-top: 1px solid var(--line);
  white-space: nowrap;
  font-weight: 400;
}
thead th {
  border: 0;
  color: var(--soft-ink);
  font-size: 13px;
}
.end {
  text-align: right;
}
tr.on {
  background: var(--met-soft);
}
th button {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 40px;
  text-align: left;
  font-weight: 600;
}
th img {
  width: 54px;
  height: 34px;
  object-fit: cover;
  border-radius: 3px;
}
.state {
  display: flex;
  gap: 8px;
  align-items: center;
}
</style>
