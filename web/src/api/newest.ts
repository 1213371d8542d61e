/**
 * Ask one request at a time, and always the newest: what is asked for while one is on its way waits for its
 * answer, and of several that wait the last is sent alone.
 */
export function oneAtATime(send: () => Promise<void>): () => Promise<void> {
  let busy = false
  let again = false
  return async function ask() {
    again = busy
    if (busy) return
    busy = true
    await send().finally(() => (busy = false))
    if (again) await ask()
  }
}
