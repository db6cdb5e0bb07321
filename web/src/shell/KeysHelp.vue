<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { keysOf } from '@/parts/keys/keymap'

const shown = defineModel<boolean>({ required: true })
const route = useRoute()

const keys = computed(() => keysOf(String(route.name)))
</script>

<template>
  <ElDialog v-model="shown" title="Keys" width="480px" append-to-body>
    <dl class="keys">
      <template v-for="{ shown: key, does } in keys" :key="`${key} ${does}`">
        <dt class="figures">{{ key }}</dt>
        <dd>{{ does }}</dd>
      </template>
    </dl>
  </ElDialog>
</template>

<style scoped>
.keys {
  display: grid;
  grid-template-columns: 160px 1fr;
  gap: 8px 16px;
  margin: 0;
}
dd {
  margin: 0;
}
</style>
