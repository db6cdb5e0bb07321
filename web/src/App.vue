<script setup lang="ts">
import { RouterView } from 'vue-router'
import AppHeader from './shell/AppHeader.vue'
</script>

<template>
  <AppHeader />
  <RouterView />
</template>

<style>
#app {
  display: flex;
  flex-direction: column;
}
</style>
