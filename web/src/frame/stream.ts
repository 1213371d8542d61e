/**
 * A worker that all tabs of a browser share: it holds the one event stream of the server's jobs and tells each
 * tab what it hears. A browser opens six connections to a server; a stream for every tab would use them up.
 */
import { CHANNEL, PATIENCE, type Heard } from './heard'

const channel = new BroadcastChannel(CHANNEL)
let source: EventSource
let heard = 0

function hear(said: Heard) {
  heard = Date.now()
  channel.postMessage(said)
}
function open() {
  source?.close()
  heard = Date.now()
  source = new EventSource('/api/jobs/stream')
  source.onmessage = (event) => hear({ jobs: JSON.parse(event.data) })
  source.addEventListener('beat', () => hear({ beat: true }))
  source.onerror = () => channel.postMessage({ broken: true } satisfies Heard)
}
open()
setInterval(() => {
  if (Date.now() - heard > PATIENCE) open()
}, PATIENCE)
