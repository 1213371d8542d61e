<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import ProgressBar from 'primevue/progressbar'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { ask, client, Problem, type Schemas } from '@/api/client'
import { say } from '@/frame/notices'
import { counted } from '@/marks/format'

import FilePreview from './FilePreview.vue'

type Preview = Schemas['FilePreview']
const router = useRouter()
const files = ref<Preview[]>([])
const refused = ref<{ name: string; why: string }[]>([])
const name = ref('')
const repeated = ref('number')
const sending = ref<{ name: string; share: number } | null>(null)
const starting = ref(false)
const over = ref(false)
const picker = ref<HTMLInputElement>()

/** Send one file, telling how much of it has gone. */
function send(file: File): Promise<Preview> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', '/api/uploads')
    request.upload.onprogress = (event) => (sending.value = { name: file.name, share: event.loaded / event.total })
    request.onerror = () => reject(new Problem('The upload broke off. Choose the file again; nothing was kept.', 0))
    request.onload = () => {
      let body
      try {
        body = JSON.parse(request.responseText)
      } catch {
        body = {}
      }
      if (request.status === 200) resolve(body)
      else reject(new Problem(body.detail ?? 'The file was refused.', request.status))
    }
    const form = new FormData()
    form.append('file', file)
    request.send(form)
  })
}

async function take(list: FileList | null | undefined) {
  for (const file of Array.from(list ?? [])) {
    sending.value = { name: file.name, share: 0 }
    try {
      const preview = await send(file)
      files.value.push(preview)
      if (!name.value) name.value = file.name.replace(/\.[^.]+$/, '').replace(/[-_]+/g, ' ')
    } catch (fault) {
      refused.value.push({ name: file.name, why: (fault as Problem).message })
    }
  }
  sending.value = null
  if (picker.value) picker.value.value = ''
}

async function adjust(at: number, settings: Preview['settings']) {
  const file = files.value[at]
  try {
    files.value[at] = await ask(
      client.POST('/api/uploads/{sha256}/preview', {
        params: { path: { sha256: file.sha256 }, query: { name: file.name } },
        body: settings,
      }),
    )
  } catch (fault) {
    say((fault as Problem).message, 'bad')
  }
}

/** Files of the same columns follow the first one's roles. */
function adjustAll(at: number, settings: Preview['settings']) {
  const columns = files.value[at].columns.join('\n')
  files.value.forEach((file, index) => {
    if (index === at) adjust(index, settings)
    else if (file.columns.join('\n') === columns)
      adjust(index, {
        ...settings,
        encoding: file.settings.encoding,
        delimiter: file.settings.delimiter,
      })
  })
}

const unsure = computed(() => files.value.some((file) => !file.order_is_certain))
async function begin() {
  if (starting.value) return
  starting.value = true
  try {
    const made = await ask(
      client.POST('/api/skeins', {
        body: {
          name: name.value.trim() || 'Untitled',
          gather: {
            files: files.value.map(({ sha256, name: file, settings }) => ({
              sha256,
              name: file,
              settings,
            })),
            repeated: repeated.value,
          },
        },
      }),
    )
    await router.push(`/strand/${made.strand}/gather`)
  } catch (fault) {
    say((fault as Problem).message, 'bad')
  } finally {
    starting.value = false
  }
}
</script>

<template>
  <div class="import">
    <div
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="((over = false), take($event.dataTransfer?.files))">
      <p>Drop files here: tables (CSV, TSV), JSON Lines, or plain text, one document a line or one a file.</p>
      <Button label="Choose files" @click="picker?.click()" />
      <input
        ref="picker"
        type="file"
        multiple
        class="hidden-text"
        aria-label="Files"
        tabindex="-1"
        @change="take(($event.target as HTMLInputElement).files)" />
    </div>
    <div v-if="sending" role="status">
      <p class="small">Reading {{ sending.name }}</p>
      <ProgressBar :value="Math.round(100 * sending.share)" :show-value="false" aria-label="Upload" />
    </div>
    <p v-for="(each, at) in refused" :key="at" class="notice bad">{{ each.why }}</p>
    <FilePreview
      v-for="(file, at) in files"
      :key="file.sha256 + at"
      :file="file"
      @change="adjustAll(at, $event)"
      @remove="files.splice(at, 1)" />
    <div v-if="files.length" class="row wrap begin">
      <label class="row">Name <InputText v-model="name" aria-label="Name of the skein" maxlength="200" /></label>
      <label class="row">
        Repeated identifiers
        <select v-model="repeated">
          <option value="number">number them</option>
          <option value="first">keep the first</option>
          <option value="refuse">refuse the file</option>
        </select>
      </label>
      <Button :label="`Bring in ${counted(files.length, 'file')}`" :loading="starting" @click="begin" />
      <span v-if="unsure" class="loss small">Say first whether day or month comes first in the dates.</span>
    </div>
  </div>
</template>

<style scoped>
.import {
  display: grid;
  gap: 1rem;
  margin-top: 0.8rem;
  max-width: 70rem;
}
.drop {
  border: 1.5px dashed var(--soft);
  border-radius: 6px;
  padding: 1.4rem;
  background: var(--raised);
}
.drop.over {
  background: var(--woad-wash);
  border-color: var(--woad);
}
.begin {
  gap: 1.4rem;
}
</style>
