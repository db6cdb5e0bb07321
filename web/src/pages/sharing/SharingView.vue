<script setup lang="ts">
import dayjs from 'dayjs'
import { ElButton, ElInput } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'
import type { AccessState, JoinCode, Role, Sharing } from '@yuzumix/core'
import { api } from '@/api/client'
import { notifyDone, notifyProblem } from '@/api/notify'
import { counted } from '@/parts/numbers/format'

/** Who may come in from other devices of the workshop's network. */
const access = shallowRef<AccessState | null>(null)
const sharing = shallowRef<Sharing | null>(null)
const code = shallowRef<JoinCode | null>(null)
const codeRole = ref<Role>('work')
const passphrase = ref('')
const names = ref('')
const problem = ref('')
const busy = ref(false)
const listOf = (text: string): string[] => text.split(/[\s,]+/).filter(Boolean)
const isNamed = computed(() => listOf(names.value).join() !== (sharing.value?.names ?? []).join())
const unnamed = computed(() => sharing.value?.addresses.filter((one) => !listOf(names.value).includes(one)) ?? [])
const picture = computed(() => code.value && `data:image/svg+xml;utf8,${encodeURIComponent(code.value.picture)}`)
const ROLE_WORDS: Record<Role, string> = { work: 'work', watch: 'only watch' }

async function load(): Promise<void> {
  try {
    ;[access.value, sharing.value] = await Promise.all([api.access(), api.sharing()])
    names.value = sharing.value.names.join(' ')
    problem.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  }
}
onMounted(load)

async function act(work: () => Promise<string | null>): Promise<void> {
  busy.value = true
  try {
    const said = await work()
    if (said) notifyDone(said)
    await load()
  } catch (error) {
    notifyProblem(error)
  } finally {
    busy.value = false
  }
}
const setPassphrase = (): Promise<void> =>
  act(async () => {
    await api.setPassphrase({ passphrase: passphrase.value })
    passphrase.value = ''
    return 'The passphrase is set. Whoever was let in before tells it anew.'
  })
const setNames = (): Promise<void> =>
  act(async () => {
    await api.setNames({ names: listOf(names.value) })
    return 'The names are kept.'
  })
const show = (role: Role): Promise<void> =>
  act(async () => {
    code.value = await api.makeCode({ role })
    codeRole.value = role
    return null
  })
const leaveAll = (): Promise<void> =>
  act(async () => {
    code.value = null
    return `${counted((await api.leaveAll({})).left, 'device')} let in before: none of them is any more.`
  })
</script>

<template>
  <main class="sharing">
    <h1>Sharing</h1>
    <p v-if="problem" role="alert">{{ problem }} <ElButton size="small" @click="load">Try again</ElButton></p>
    <p v-else-if="!access || !sharing" class="soft" role="status">Looking …</p>
    <template v-else>
      <p v-if="access.open">
        Other devices of the workshop's network can reach this machine. They tell the passphrase first, or a code.
      </p>
      <p v-else>
        This machine alone can reach Yuzumix now. To let phones and tablets in: set a passphrase and the names below,
        then start it with <code>HOST=0.0.0.0 npm start</code>.
      </p>
      <section>
        <h2>Passphrase</h2>
        <p>{{ access.hasPassphrase ? 'One is set.' : 'None is set yet.' }}</p>
        <form v-if="access.here" class="line" @submit.prevent="setPassphrase">
          <ElInput
            v-model="passphrase"
            type="password"
            show-password
            autocomplete="new-password"
            aria-label="New passphrase, 10 characters or more"
            placeholder="some words, 10 characters or more"
          />
          <ElButton native-type="submit" :disabled="busy || passphrase.length < 10">{{
            access.hasPassphrase ? 'Change it' : 'Set it'
          }}</ElButton>
        </form>
        <p v-else class="soft">It is set at the machine itself.</p>
      </section>
      <section>
        <h2>Names of this machine</h2>
        <p class="soft">
          It answers only under names that are said here, so that no page of another site can reach it by one of its
          own.
        </p>
        <form v-if="access.here" class="line" @submit.prevent="setNames">
          <ElInput v-model="names" aria-label="Names and addresses, apart by blanks" placeholder="workshop.local" />
          <ElButton v-for="one in unnamed" :key="one" size="small" @click="names = `${names} ${one}`.trim()"
            >Add {{ one }}</ElButton
          >
          <ElButton native-type="submit" :disabled="busy || !isNamed">Keep the names</ElButton>
        </form>
        <p v-else>{{ sharing.names.join(', ') || 'none' }}</p>
      </section>
      <section>
        <h2>Let a device in</h2>
        <div class="line">
          <ElButton type="primary" :disabled="busy || !access.open" @click="show('work')">Show a code to work</ElButton>
          <ElButton :disabled="busy || !access.open" @click="show('watch')">Show a code to only watch</ElButton>
        </div>
        <p v-if="!access.open" class="soft">Codes are shown once it can be reached from other devices.</p>
        <div v-if="code" class="code">
          <img :src="picture!" alt="The address as a picture to be read by a camera" width="220" height="220" />
          <div>
            <p>Open it with the camera of the other device, or type the address:</p>
            <p class="address">{{ code.address }}</p>
            <p class="soft">
              Lets one device in to {{ ROLE_WORDS[codeRole] }}, once, until {{ dayjs(code.until).format('HH:mm') }}.
            </p>
          </div>
        </div>
      </section>
      <section>
        <h2>Let in</h2>
        <p v-if="sharing.sessions.length === 0" class="soft">No other device is let in.</p>
        <ul v-else>
          <li v-for="(one, k) in sharing.sessions" :key="k" class="figures">
            to {{ ROLE_WORDS[one.role] }}, since {{ dayjs(one.since).format('D MMM YYYY, HH:mm') }}
          </li>
        </ul>
        <ElButton v-if="sharing.sessions.length" :disabled="busy" @click="leaveAll"
          >Let none of them in any more</ElButton
        >
      </section>
      <p class="soft">
        Without a certificate what is sent can be read along in the network: name one (YUZUMIX_CERT and YUZUMIX_KEY)
        where others share it.
      </p>
      <RouterLink to="/">To the jobs</RouterLink>
    </template>
  </main>
</template>

<style scoped>
.sharing {
  flex: 1;
  overflow-y: auto;
  padding: 24px max(24px, calc(50vw - 560px));
  display: grid;
  gap: 16px;
  align-content: start;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.line :deep(.el-input) {
  max-width: 420px;
}
.line :deep(.el-button + .el-button) {
  margin-left: 0;
}
.code {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  margin-top: 12px;
}
.code img {
  background: #fff;
}
.address {
  font-size: 1.1em;
  font-weight: 700;
  overflow-wrap: anywhere;
}
@media (max-width: 700px) {
  .sharing {
    padding: 16px 12px;
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
