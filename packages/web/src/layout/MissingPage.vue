<script setup lang="ts">
import AppBar from './AppBar.vue';
</script>

<template>
  <AppBar />
  <main id="main" class="page">
    <h1>There is nothing here.</h1>
    <p>
      The address may be old or mistyped. <router-link :to="{ name: 'today' }">Go to Today</router-link>,
      where everything that is due is listed.
    </p>
  </main>
</template>

<style scoped>
.page {
  max-width: 640px;
  margin: 10vh auto;
  padding: 0 16px;
  display: grid;
  gap: 12px;
}
</style>
