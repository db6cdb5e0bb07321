<template>
  <main class="nothing">
    <h1>There is nothing at this address</h1>
    <p>The job may have been deleted, or the address is mistyped.</p>
    <p><RouterLink to="/">See all jobs</RouterLink></p>
  </main>
</template>

<style scoped>
.nothing {
  padding: 48px;
  display: grid;
  gap: 12px;
}
</style>
