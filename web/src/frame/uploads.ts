import { count } from '@/marks/format'
import { ask, client, Problem, type Schemas } from '@/api/client'

export type Preview = Schemas['FilePreview']
export type Settings = Preview['settings']

/** More files than this at once are brought in as one folder. */
export const FOLDER_FROM = 12

/** Refuse before anything is sent what the server would refuse for its size. */
export function checkSize(form: FormData, limit: number) {
  const size = [...form.values()].reduce((sum, part) => sum + (part instanceof File ? part.size : 0), 0)
  if (limit && size > limit)
    throw new Problem(
      `That is ${count(Math.ceil(size / 1e6))} MB, over the limit of ${count(limit / 1e6)} MB. Raise it with --upload-limit.`,
      413,
    )
}
/** The most that may be sent at once, as the server wrote it into the page. */
export const uploadLimit = () =>
  Number(document.querySelector<HTMLMetaElement>('meta[name="upload-limit"]')?.content) || 0

/** Send a form, telling how much of it has gone. */
export function sendForm<Answer>(path: string, form: FormData, progress?: (share: number) => void): Promise<Answer> {
  return new Promise((resolve, reject) => {
    checkSize(form, uploadLimit())
    const request = new XMLHttpRequest()
    request.open('POST', path)
    request.upload.onprogress = (event) => progress?.(event.loaded / event.total)
    request.onerror = () => reject(new Problem('The upload broke off. Choose the file again; nothing was kept.', 0))
    request.onload = () => {
      let body
      try {
        body = JSON.parse(request.responseText)
      } catch {
        body = {}
      }
      if (request.status < 300) resolve(body)
      else reject(new Problem(body.detail ?? 'The file was refused.', request.status))
    }
    request.send(form)
  })
}

/** Bring one file in. */
export function sendFile(file: File, progress?: (share: number) => void): Promise<Preview> {
  const form = new FormData()
  form.append('file', file)
  return sendForm('/api/uploads', form, progress)
}

/** Bring many files in as one folder, each with its path. */
export function sendFolder(files: File[], progress: (share: number) => void): Promise<Preview> {
  const form = new FormData()
  const path = (file: File) => file.webkitRelativePath || file.name
  form.append('name', path(files[0]).includes('/') ? path(files[0]).split('/')[0] : `${files.length} files`)
  for (const file of files) form.append('files', file, path(file))
  return sendForm('/api/uploads/folder', form, progress)
}

/** The preview of a file under other settings. */
export function previewAgain(file: Preview, settings: Settings): Promise<Preview> {
  return ask(
    client.POST('/api/uploads/{sha256}/preview', {
      params: { path: { sha256: file.sha256 }, query: { name: file.name } },
      body: settings,
    }),
  )
}

/** Whether a file gives pages of HTML, or may. */
export const hasPages = (file: Pick<Preview, 'asks' | 'settings'>) =>
  file.asks.includes('page') || !!file.settings.html_text

/** The settings with the roles that fields of the same name have in the files before; the text is each file's own. */
export function withKnownRoles(columns: string[], settings: Settings, before: Pick<Preview, 'columns' | 'settings'>[]) {
  const known: NonNullable<Settings['roles']> = {}
  for (const file of before)
    for (const column of file.columns)
      known[calledIn(file.settings, column)] ??= file.settings.roles?.[column] ?? 'kept'
  const roles = { ...settings.roles }
  for (const column of columns) {
    const role = known[calledIn(settings, column)]
    if (roles[column] && roles[column] !== 'text' && role && role !== 'text') roles[column] = role
  }
  const same = columns.every((column) => roles[column] === settings.roles?.[column])
  return same ? settings : { ...settings, roles }
}

/** What a field of a file is called in the corpus. */
export const calledIn = (settings: Settings, column: string) => settings.names?.[column] ?? column
