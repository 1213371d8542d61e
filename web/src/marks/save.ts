/** Save charts and their data as files. */

const RISKY = /^[=+\-@\t\r]/

export function csvCell(value: string | number | null): string {
  if (value === null) return ''
  if (typeof value === 'number') return String(value)
  const safe = RISKY.test(value) ? `'${value}` : value
  return /[",\n\r]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe
}

export const toCsv = (header: string[], rows: (string | number | null)[][]) =>
  [header, ...rows].map((row) => row.map(csvCell).join(',')).join('\r\n') + '\r\n'

function download(name: string, data: Blob) {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(data)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 1000)
}

export function saveTable(name: string, header: string[], rows: (string | number | null)[][]) {
  download(`${name}.csv`, new Blob([toCsv(header, rows)], { type: 'text/csv' }))
}

const STYLES = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'opacity',
  'fill-opacity',
  'font-size',
  'font-family',
  'font-weight',
  'text-anchor',
]

/** The chart as an SVG of its own: computed styles and the patterns it uses go with it. */
function standAlone(chart: SVGSVGElement): string {
  const copy = chart.cloneNode(true) as SVGSVGElement
  const from = [chart, ...chart.querySelectorAll<SVGElement>('*')]
  const to = [copy, ...copy.querySelectorAll<SVGElement>('*')]
  from.forEach((element, at) => {
    const style = getComputedStyle(element)
    for (const name of STYLES) to[at].style.setProperty(name, style.getPropertyValue(name))
  })
  chart.querySelectorAll('canvas').forEach((canvas, at) => {
    const holder = copy.querySelectorAll('foreignObject')[at]
    const image = document.createElementNS('http://www.w3.org/2000/svg', 'image')
    for (const name of ['x', 'y', 'width', 'height']) image.setAttribute(name, holder.getAttribute(name) ?? '0')
    image.setAttribute('href', canvas.toDataURL())
    holder.replaceWith(image)
  })
  const used = new Set(Array.from(copy.outerHTML.matchAll(/url\(["']?#(dye-\d+)/g), (found) => found[1]))
  for (const id of used) {
    const pattern = document.getElementById(id)?.cloneNode(true) as SVGElement | undefined
    if (!pattern) continue
    for (const part of pattern.querySelectorAll<SVGElement>('*')) {
      const text = part.getAttribute('style') ?? ''
      part.setAttribute(
        'style',
        text.replace(/var\((--[\w-]+)\)/g, (_, name) =>
          getComputedStyle(document.documentElement).getPropertyValue(name),
        ),
      )
    }
    copy.prepend(pattern)
  }
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  return new XMLSerializer().serializeToString(copy)
}

export function saveChart(name: string, chart: SVGSVGElement, kind: 'svg' | 'png') {
  const source = new Blob([standAlone(chart)], { type: 'image/svg+xml' })
  if (kind === 'svg') return download(`${name}.svg`, source)
  const image = new Image()
  image.onload = () => {
    const canvas = document.createElement('canvas')
    const box = chart.getBoundingClientRect()
    canvas.width = box.width * 2
    canvas.height = box.height * 2
    const draw = canvas.getContext('2d')
    if (!draw) return
    draw.fillStyle = getComputedStyle(document.body).backgroundColor
    draw.fillRect(0, 0, canvas.width, canvas.height)
    draw.drawImage(image, 0, 0, canvas.width, canvas.height)
    canvas.toBlob((data) => data && download(`${name}.png`, data))
    URL.revokeObjectURL(image.src)
  }
  image.src = URL.createObjectURL(source)
}
