import { ask, client, Problem, type Schemas } from '@/api/client'

export type Preview = Schemas['FilePreview']
export type Settings = Preview['settings']

/** More files than this at once are brought in as one folder. */
export const FOLDER_FROM = 12

/** Send a form, telling how much of it has gone. */
function post(path: string, form: FormData, progress: (share: number) => void): Promise<Preview> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.open('POST', path)
    request.upload.onprogress = (event) => progress(event.loaded / event.total)
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
    request.send(form)
  })
}

/** Bring one file in. */
export function sendFile(file: File, progress: (share: number) => void): Promise<Preview> {
  const form = new FormData()
  form.append('file', file)
  return post('/api/uploads', form, progress)
}

/** Bring many files in as one folder, each with its path. */
export function sendFolder(files: File[], progress: (share: number) => void): Promise<Preview> {
  const form = new FormData()
  const path = (file: File) => file.webkitRelativePath || file.name
  form.append('name', path(files[0]).includes('/') ? path(files[0]).split('/')[0] : `${files.length} files`)
  for (const file of files) form.append('files', file, path(file))
  return post('/api/uploads/folder', form, progress)
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
