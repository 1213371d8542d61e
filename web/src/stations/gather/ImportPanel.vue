<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import ProgressBar from 'primevue/progressbar'
import { computed, onMounted, ref, toRaw } from 'vue'
import { useRouter } from 'vue-router'

import { ask, client, type Problem, type Schemas } from '@/api/client'
import { strandPath } from '@/api/strand'
import { say } from '@/frame/notices'
import { counted } from '@/marks/format'

import FilePreview from './FilePreview.vue'
import PasteBox from './PasteBox.vue'
import {
  FOLDER_FROM,
  previewAgain,
  sendFile,
  sendFolder,
  withKnownRoles,
  type Preview,
  type Settings,
} from '@/frame/uploads'

/** Begins a skein; of a strand, it brings its files in again. */
const props = defineProps<{ strand?: number }>()
const router = useRouter()
const files = ref<Preview[]>([])
const refused = ref<string[]>([])
const name = ref('')
const repeated = ref<Schemas['SourceFiles']['repeated']>('number')
const sending = ref<{ name: string; share: number } | null>(null)
const starting = ref(false)
const pasting = ref(false)
const over = ref(false)
const picker = ref<HTMLInputElement>()
const folderPicker = ref<HTMLInputElement>()

/** Takes a preview in; fields that the files before have too get the roles they have there. */
function put(at: number, preview: Preview) {
  files.value[at] = preview
  const settings = withKnownRoles(preview.columns, preview.settings, files.value.slice(0, at))
  if (settings !== preview.settings) adjust(at, settings)
}
function took(preview: Preview) {
  put(files.value.length, preview)
  if (!name.value) name.value = preview.name.replace(/\.[^.]+$/, '').replace(/[-_]+/g, ' ')
  pasting.value = false
}
async function send(what: string, start: (progress: (share: number) => void) => Promise<Preview>) {
  sending.value = { name: what, share: 0 }
  try {
    took(await start((share) => (sending.value = { name: what, share })))
  } catch (fault) {
    refused.value.push((fault as Problem).message)
  }
}
async function take(list: FileList | null | undefined, folder = false) {
  const chosen = Array.from(list ?? [])
  if (chosen.length && (folder || chosen.length > FOLDER_FROM))
    await send(counted(chosen.length, 'file'), (progress) => sendFolder(chosen, progress))
  else for (const file of chosen) await send(file.name, (progress) => sendFile(file, progress))
  sending.value = null
  for (const input of [picker.value, folderPicker.value]) if (input) input.value = ''
}

/** Shows the settings at once and what they give when it is there, unless they have changed again. */
async function adjust(at: number, settings: Settings) {
  const before = files.value[at]
  const place = () => files.value.findIndex((file) => toRaw(file.settings) === settings)
  files.value[at] = { ...before, settings }
  try {
    const found = await previewAgain(before, settings)
    if (place() >= 0) put(place(), found)
  } catch (fault) {
    say((fault as Problem).message, 'bad')
    if (place() >= 0) files.value[place()] = before
  }
}

/** Files of the same columns follow the first one's roles. */
function adjustAll(at: number, settings: Settings) {
  const columns = files.value[at].columns.join('\n')
  files.value.forEach((file, index) => {
    if (index === at) adjust(index, settings)
    else if (file.columns.join('\n') === columns && file.settings.format === files.value[at].settings.format)
      adjust(index, {
        ...settings,
        encoding: file.settings.encoding,
        delimiter: file.settings.delimiter,
        begin: file.settings.begin,
        escaped: file.settings.escaped,
      })
  })
}

const gather = computed(() => ({
  files: files.value.map(({ sha256, name: file, settings }) => ({ sha256, name: file, settings })),
  repeated: repeated.value,
}))
const base = ref('')
const asRead = ref('')
const changed = computed(() => JSON.stringify(gather.value) !== asRead.value)
onMounted(async () => {
  if (!props.strand) return
  sending.value = { name: 'the files again', share: 1 }
  try {
    const found = await ask(client.GET('/api/strands/{strand_id}/files', { params: strandPath(props.strand) }))
    base.value = found.base
    files.value = found.files
    repeated.value = found.repeated
    asRead.value = JSON.stringify(gather.value)
  } catch (fault) {
    refused.value.push((fault as Problem).message)
  }
  sending.value = null
})

const unsure = computed(() => files.value.some((file) => !file.order_is_certain))
async function begin() {
  if (starting.value) return
  starting.value = true
  try {
    if (props.strand) {
      const params = { ...strandPath(props.strand), query: { base: base.value } }
      await ask(client.POST('/api/strands/{strand_id}/gather', { params, body: gather.value }))
    } else {
      const body = { name: name.value.trim() || 'Untitled', gather: gather.value }
      const made = await ask(client.POST('/api/skeins', { body }))
      await router.push(`/strand/${made.strand}/gather`)
    }
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
      :class="{ over, slim: files.length }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="((over = false), take($event.dataTransfer?.files))">
      <p v-if="files.length" class="small soft">Drop or choose more files to bring in with these.</p>
      <p v-else>
        Drop files here: tables and spreadsheets, JSON and XML, text, Markdown and HTML, office documents, books and
        PDF, mailboxes, references, or archives of any of these.
      </p>
      <div class="row wrap">
        <Button label="Choose files" @click="picker?.click()" />
        <Button label="Choose a folder" severity="secondary" @click="folderPicker?.click()" />
        <Button v-if="!pasting" label="Paste text" severity="secondary" @click="pasting = true" />
      </div>
      <PasteBox v-if="pasting" class="paste" @pasted="took" @cancel="pasting = false" />
      <input
        ref="picker"
        type="file"
        multiple
        class="hidden-text"
        aria-label="Files"
        tabindex="-1"
        @change="take(($event.target as HTMLInputElement).files)" />
      <input
        ref="folderPicker"
        type="file"
        webkitdirectory
        class="hidden-text"
        aria-label="Folder"
        tabindex="-1"
        @change="take(($event.target as HTMLInputElement).files, true)" />
    </div>
    <div v-if="sending" role="status">
      <p class="small">Reading {{ sending.name }}</p>
      <ProgressBar :value="Math.round(100 * sending.share)" :show-value="false" aria-label="Upload" />
    </div>
    <p v-for="(each, at) in refused" :key="at" class="notice bad row spread">
      {{ each }}
      <button class="plain soft" aria-label="Dismiss" @click="refused.splice(at, 1)">×</button>
    </p>
    <FilePreview
      v-for="(file, at) in files"
      :key="file.sha256 + at"
      :file="file"
      @change="adjustAll(at, $event)"
      @remove="files.splice(at, 1)" />
    <div v-if="files.length" class="row wrap begin">
      <label v-if="!strand" class="row"
        >Name <InputText v-model="name" aria-label="Name of the skein" maxlength="200"
      /></label>
      <label class="row">
        Repeated identifiers
        <select v-model="repeated">
          <option value="number">number them</option>
          <option value="first">keep the first</option>
          <option value="refuse">refuse the file</option>
        </select>
      </label>
      <Button
        :label="`Bring in ${counted(files.length, 'file')}${strand ? ' again' : ''}`"
        :disabled="!!strand && !changed"
        :loading="starting"
        @click="begin" />
      <span v-if="strand" class="soft small">
        {{
          changed
            ? 'The steps of Shape and all that follows are made again; undo brings the documents of before back.'
            : 'Add files, take some away, or read one otherwise.'
        }}
      </span>
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
.slim {
  padding: 0.5rem 1.4rem;
  display: flex;
  align-items: center;
  gap: 1.4rem;
  flex-wrap: wrap;
}
.slim p {
  margin: 0;
}
.begin {
  gap: 0.6rem 1.4rem;
  position: sticky;
  bottom: -2rem;
  padding: 0.7rem 0 1rem;
  background: var(--paper);
  border-top: 1px solid var(--hairline);
}
.paste {
  margin-top: 0.8rem;
}
</style>
