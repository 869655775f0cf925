<script setup lang="ts">
/** What a stop shows that has no take to work on yet, and the way to one. */
defineProps<{ heading: string; assignmentId: string | undefined }>();
</script>

<template>
  <div class="needs-take">
    <div class="sheet">
      <h2>{{ heading }}</h2>
      <p>Bring in a recording or a photograph first.</p>
      <v-btn class="go" :to="{ name: 'takes', params: { assignmentId } }">Go to Takes</v-btn>
    </div>
  </div>
</template>

<style scoped>
.needs-take {
  flex: 1;
  display: grid;
  place-content: center;
  padding: 20px;
}
.needs-take .sheet {
  padding: 24px;
  display: grid;
  gap: 10px;
  justify-items: start;
}
</style>
