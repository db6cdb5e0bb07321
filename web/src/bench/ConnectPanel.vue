<script setup lang="ts">
import type { BenchState, TrainingState } from '@yuzumix/core'
import { ElButton, ElInput, ElRadioButton, ElRadioGroup } from 'element-plus'
import { useStorage } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import ChoiceSelect from '@/parts/choose/ChoiceSelect.vue'
import { api } from '@/api/client'
import { notifyProblem } from '@/api/notify'
import { useJob } from '@/job/openJob'
import NumberBox from '@/parts/numbers/NumberBox.vue'

/** A simulated rig, or a source of live lines, which is only read. */
const maker = ref<'simulated' | 'lines'>('simulated')
const source = useStorage('yuzumix.lines.source', '')
const baud = useStorage('yuzumix.lines.baud', 115_200)
const isSerial = computed(() => /^(\/dev\/|com\d)/i.test(source.value.trim()))
const props = defineProps<{ training: TrainingState | null }>()
const emit = defineEmits<{ connect: [way: () => Promise<BenchState>] }>()
const open = useJob()
const machines = ref<{ id: string; name: string }[]>([])
const machine = ref('')
const speed = ref<1 | 4>(1)
const coolant = ref(24)
const temperature = ref(21)
const pressure = ref(1006)

const job = open.job!.id
function connect(): void {
  const [asked, fast, coolantC] = [machine.value, speed.value, coolant.value]
  const weather = { temperatureC: temperature.value, pressureKpa: pressure.value / 10, humidityPct: 0 }
  const [from, rate] = [source.value.trim(), isSerial.value ? { baud: baud.value } : {}]
  if (maker.value === 'lines' && !props.training)
    return emit('connect', () => api.connectBench(job, { maker: 'lines', source: from, ...rate }))
  emit('connect', () =>
    props.training
      ? api.connectCase(job, { speed: fast })
      : api.connectBench(job, { maker: 'simulated', machine: asked, speed: fast, coolantC, weather }),
  )
}

onMounted(async () => {
  try {
    machines.value = await api.benchMachines()
    const title = open.job!.title.toLowerCase()
    const likely = machines.value.find((one) => title.startsWith(one.name.toLowerCase().split(',')[0]!))
    machine.value = (likely ?? machines.value[0]!).id
  } catch (error) {
    notifyProblem(error)
  }
})
</script>

<template>
  <div class="connect">
    <h1>Bench</h1>
    <template v-if="training">
      <h2>{{ training.case.title }}</h2>
      <p>{{ training.case.brief }}</p>
      <p>It stands cold on the drum of the simulated rig.</p>
    </template>
    <template v-else>
      <p>No rig is connected to this job.</p>
      <ElRadioGroup v-model="maker" aria-label="What is connected">
        <ElRadioButton value="simulated">Simulated rig</ElRadioButton>
        <ElRadioButton value="lines">Live lines, read only</ElRadioButton>
      </ElRadioGroup>
      <p v-if="maker === 'simulated'">
        The simulated rig behaves like an engine with a controller, a wideband and a drum: for learning, and for trying
        a change before it goes to a real machine.
      </p>
      <p v-else>
        Whatever sends lines of text, a first one with names and then values, over the network or a serial port. It is
        read and never set; what is recorded becomes a run. A stand-in to try it with: npm run lines, then
        127.0.0.1:5190.
      </p>
    </template>
    <template v-if="maker === 'simulated' || training">
      <label v-if="!training"
        >Machine on the drum
        <ChoiceSelect
          size="default"
          v-model="machine"
          name="Machine on the drum"
          :choices="machines.map((one) => ({ value: one.id, label: one.name }))"
        />
      </label>
      <div class="line">
        <label v-if="!training"
          >Coolant at the start, °C
          <NumberBox v-model="coolant" :least="0" :most="100" name="Coolant at the start in °C" size="default"
        /></label>
        <label v-if="!training"
          >Air, °C <NumberBox v-model="temperature" :least="-20" :most="50" name="Air in °C" size="default"
        /></label>
        <label v-if="!training"
          >Air, hPa <NumberBox v-model="pressure" :least="600" :most="1060" name="Air pressure in hPa" size="default"
        /></label>
        <label
          >Its time runs
          <ElRadioGroup v-model="speed" aria-label="Speed">
            <ElRadioButton :value="1">as the clock</ElRadioButton>
            <ElRadioButton :value="4">four times as fast</ElRadioButton>
          </ElRadioGroup>
        </label>
      </div>
      <ElButton type="primary" :disabled="!training && !machine" @click="connect">Connect the simulated rig</ElButton>
    </template>
    <template v-else>
      <label
        >Host and port, or serial port
        <ElInput
          v-model="source"
          maxlength="200"
          aria-label="Source of the lines"
          placeholder="127.0.0.1:5190"
          @keydown.enter="connect"
        />
      </label>
      <label v-if="isSerial"
        >Speed, baud <NumberBox v-model="baud" :least="300" :most="4000000" name="Speed in baud" size="default"
      /></label>
      <ElButton type="primary" :disabled="!source.trim()" @click="connect">Connect the lines</ElButton>
    </template>
  </div>
</template>

<style scoped>
.connect {
  display: grid;
  gap: 16px;
  justify-items: start;
  max-width: 560px;
  padding: 32px 48px;
}
label {
  display: grid;
  gap: 4px;
  color: var(--soft);
}
label :deep(.el-select) {
  width: 320px;
}
.line {
  display: flex;
  gap: 16px 24px;
  flex-wrap: wrap;
}
</style>
