<script setup lang="ts">
import { formatBytes, formatExactBytes } from '@apodix/core';
import { useRoute } from 'vue-router';
import CannotReach from '../../components/CannotReach.vue';
import ProofSign from '../../components/ProofSign.vue';
import { readSign } from '../../components/read-sign.ts';
import { findLocale } from '../../composables/local-dates.ts';
import { saveText } from '../../composables/save-text.ts';
import AppBar from '../../layout/AppBar.vue';
import { useReceipt } from './useReceipt.ts';

const { receipt, keyName, isMissing, fault, readAgain } = useReceipt(String(useRoute().params.receiptId));
const write = (at: string) =>
  new Intl.DateTimeFormat(findLocale(), { dateStyle: 'full', timeStyle: 'medium' }).format(new Date(at));
const origins = {
  course: 'The limits that the course set.',
  read: 'The limits as Apodix read them from the instructions.',
  'read-and-corrected':
    'The limits as Apodix read them from the instructions and the student corrected them.',
} as const;
function save(): void {
  const { value } = receipt;
  if (value) saveText(`receipt-${value.receiptId}.json`, JSON.stringify(value, null, 2), 'application/json');
}
const print = () => window.print();
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <template v-if="receipt">
      <p class="note">Receipt</p>
      <h1>{{ receipt.assignment }}</h1>
      <p class="received">
        <ProofSign v-bind="readSign(receipt.files.flatMap((file) => file.findings))" :size="26" />
        <strong>Received {{ write(receipt.receivedAt) }}</strong
        ><span v-if="receipt.isLate"> · late</span>
      </p>
      <dl class="sheet">
        <dt>Handed in by</dt>
        <dd>{{ receipt.person }}</dd>
        <dt>Course</dt>
        <dd>{{ receipt.course }}</dd>
        <dt>Attempt</dt>
        <dd class="figures">{{ receipt.attempt }}</dd>
        <dt>Sent</dt>
        <dd>{{ write(receipt.sentAt) }}</dd>
        <dt>Due</dt>
        <dd>{{ receipt.dueAt ? write(receipt.dueAt) : 'no due time' }}</dd>
        <dt>Received by</dt>
        <dd>
          {{ receipt.courseSite.name }} <span class="note figures">{{ receipt.courseSite.deliveryId }}</span>
        </dd>
        <template v-if="receipt.participants"
          ><dt>Who took part</dt>
          <dd>{{ receipt.participants }}</dd></template
        >
        <template v-if="receipt.note"
          ><dt>Note</dt>
          <dd>{{ receipt.note }}</dd></template
        >
        <dt>Own work</dt>
        <dd>{{ receipt.isOwnWork ? 'stated' : 'not stated' }}</dd>
        <template v-if="receipt.limitsFrom"
          ><dt>Judged by</dt>
          <dd data-testid="limits-from">{{ origins[receipt.limitsFrom] }}</dd></template
        >
      </dl>
      <section v-for="answer in receipt.answers ?? []" :key="answer.slotId" class="sheet file">
        <h2>{{ answer.slotLabel }}</h2>
        <a v-if="answer.item === 'link'" :href="answer.text" target="_blank" rel="noreferrer noopener">{{
          answer.text
        }}</a>
        <p v-else class="typed">{{ answer.text }}</p>
      </section>
      <section v-for="file in receipt.files" :key="file.sha256" class="sheet file">
        <h2 class="figures">{{ file.fileName }}</h2>
        <p class="figures">{{ formatBytes(file.sizeBytes) }} · {{ formatExactBytes(file.sizeBytes) }}</p>
        <p class="note figures hash">SHA-256 {{ file.sha256 }}</p>
        <p>
          {{
            file.sha256 === file.receivedSha256
              ? 'The course site computed the same SHA-256 on what it received.'
              : 'The course site computed another SHA-256.'
          }}
        </p>
        <table>
          <caption class="unseen">
            Limits as proven on this file
          </caption>
          <tbody>
            <tr v-for="finding in file.findings" :key="finding.label">
              <th scope="row">{{ finding.label }}</th>
              <td class="figures">{{ finding.figure ?? 'not measured' }}</td>
              <td>{{ finding.wanted }}</td>
              <td :class="finding.state">
                {{
                  { met: 'met', short: 'short', unknown: 'not known', person: 'left to a person' }[
                    finding.state
                  ]
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <p class="note">
        Signed<template v-if="keyName">
          with the key <span class="figures">{{ keyName }}</span></template
        >. Anyone can check it without Apodix:
        <router-link :to="{ name: 'receipt-key' }">the key of this school, and how</router-link>.
      </p>
      <div class="acts">
        <v-btn class="plain" @click="save">Save the receipt</v-btn
        ><v-btn class="quiet" @click="print">Print</v-btn
        ><v-btn class="quiet" :to="{ name: 'today' }">Go to Today</v-btn>
      </div>
    </template>
    <p v-else-if="isMissing">
      This receipt is not here. <router-link :to="{ name: 'today' }">Go to Today</router-link>
    </p>
    <CannotReach v-else-if="fault" :fault="fault" @again="readAgain" />
    <p v-else class="note" aria-busy="true">Opening…</p>
  </main>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 26px 16px 60px;
  display: grid;
  gap: 14px;
  width: 100%;
}
.received {
  display: flex;
  gap: 12px;
  align-items: center;
  font-size: 16px;
}
dl {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 8px 18px;
  padding: 18px;
  margin: 0;
}
dt {
  color: var(--soft-ink);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.file {
  padding: 18px;
  display: grid;
  gap: 6px;
}
.typed {
  white-space: pre-line;
}
.hash,
.file a,
.file p,
.file h2 {
  overflow-wrap: anywhere;
}
table {
  border-collapse: collapse;
  margin-top: 6px;
}
th,
td {
  text-align: left;
  padding: 6px 14px 6px 0;
  border-top: 1px solid var(--line);
  font-weight: 400;
}
th {
  font-weight: 700;
}
td.met {
  color: var(--met);
  font-weight: 700;
}
td.short {
  color: var(--madder);
  font-weight: 700;
}
.acts {
  display: flex;
  gap: 10px;
  flex-wrap: wrap;
}
@media print {
  .acts,
  :deep(.bar) {
    display: none;
  }
}
@media (max-width: 600px) {
  dl {
    grid-template-columns: 1fr;
    gap: 2px;
  }
  dd {
    margin-bottom: 8px;
  }
  td:nth-child(3) {
    display: none;
  }
}
</style>
