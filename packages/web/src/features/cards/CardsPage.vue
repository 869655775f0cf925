<script setup lang="ts">
import { computed } from 'vue';
import CannotReach from '../../components/CannotReach.vue';
import { formatDay } from '../../composables/local-dates.ts';
import AppBar from '../../layout/AppBar.vue';
import { useCards } from './useCards.ts';

/** Cards that tell a shared device whose take it is: made, printed and withdrawn here. */
const { people, active, chosen, sheet, isLoaded, fault, readAgain, make, withdraw, print, toggle } =
  useCards();
const isAll = computed(() => chosen.value.size === people.value.length);
</script>

<template>
  <AppBar class="no-print" />
  <main id="main" class="page">
    <div class="no-print top">
      <h1>Cards</h1>
      <p class="lead">
        On a device that several people use, a card shown to the camera tells whose take it is. Print one a
        person; whoever holds it can record for that person, so withdraw a card that is lost.
      </p>
      <CannotReach v-if="fault" :fault="fault" @again="readAgain" />
      <fieldset v-if="people.length" class="sheet">
        <legend>Make cards for</legend>
        <label v-if="people.length > 1">
          <input type="checkbox" :checked="isAll" @change="toggle(null)" /> everybody
        </label>
        <label v-for="person in people" :key="person.id">
          <input type="checkbox" :checked="chosen.has(person.id)" @change="toggle(person.id)" />
          {{ person.displayName }}
        </label>
        <div class="acts">
          <v-btn class="go" color="primary" :disabled="chosen.size === 0" @click="make">
            {{ chosen.size > 1 ? `Make ${chosen.size} cards` : 'Make the card' }}
          </v-btn>
          <v-btn v-if="sheet.length" class="quiet" @click="print">Print the sheet</v-btn>
        </div>
      </fieldset>
    </div>
    <section v-if="sheet.length" class="cards" aria-label="New cards" data-testid="sheet">
      <article v-for="each in sheet" :key="each.card.id" class="card">
        <img :src="each.picture" alt="" width="150" height="150" />
        <strong>{{ each.card.person.displayName }}</strong>
        <span>Show this card to the camera.</span>
      </article>
    </section>
    <p v-if="sheet.length" class="note no-print">
      These codes are shown this once. Print them now; cards that were not printed can be withdrawn below.
    </p>
    <section v-if="active.length" class="no-print" aria-label="Cards in use">
      <h2>Cards in use</h2>
      <ul>
        <li v-for="card in active" :key="card.id">
          <span>{{ card.person.displayName }}</span>
          <span class="note">made {{ formatDay(Date.parse(card.createdAt)) }}</span>
          <button type="button" @click="withdraw(card)">Withdraw</button>
        </li>
      </ul>
    </section>
    <p v-else-if="isLoaded && !sheet.length" class="note no-print">There are no cards yet.</p>
  </main>
</template>

<style scoped>
.page {
  max-width: 860px;
  margin: 0 auto;
  padding: 22px 20px 60px;
  display: grid;
  gap: 14px;
  width: 100%;
}
.top {
  display: grid;
  gap: 10px;
}
fieldset {
  padding: 14px 16px;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: center;
}
legend {
  font-weight: 700;
}
label {
  min-height: 40px;
  display: flex;
  gap: 8px;
  align-items: center;
}
.acts {
  display: flex;
  gap: 8px;
  width: 100%;
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 12px;
}
.card {
  border: 1px dashed var(--soft-ink);
  border-radius: 6px;
  background: #fff;
  color: #1b2123;
  padding: 14px;
  display: grid;
  gap: 4px;
  justify-items: center;
  break-inside: avoid;
  text-align: center;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: flex;
  gap: 16px;
  align-items: center;
  border-top: 1px solid var(--line);
}
li span:first-child {
  flex: 1;
}
li button {
  min-height: 40px;
  text-decoration: underline;
  text-underline-offset: 3px;
}
@media print {
  .no-print {
    display: none !important;
  }
}
</style>
