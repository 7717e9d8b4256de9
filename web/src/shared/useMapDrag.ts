import { ref, type Ref } from 'vue'

import type { Schemas } from '../api/client'

interface Drag {
  id: string
  dx: number
  dy: number
  x: number
  y: number
  moved: boolean
}

/** Drags parts of a plan to their place, in steps of half a millimetre; `done` gets where one was let go. */
export function useMapDrag(
  svg: Ref<SVGSVGElement | undefined>,
  movable: () => boolean | undefined,
  done: (d: Drag) => void,
) {
  const drag = ref<Drag>()
  function place(e: PointerEvent) {
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse())
    return { x: p.x, y: p.y }
  }
  function grab(e: PointerEvent, p: Schemas['Part']) {
    if (!movable()) return
    const at = place(e)
    drag.value = {
      id: p.id,
      dx: at.x - (p.x_mm ?? 0),
      dy: at.y - (p.y_mm ?? 0),
      x: p.x_mm ?? 0,
      y: p.y_mm ?? 0,
      moved: false,
    }
    svg.value!.setPointerCapture(e.pointerId)
  }
  function pull(e: PointerEvent) {
    if (!drag.value) return
    const at = place(e)
    const half = (v: number) => Math.round(v * 2) / 2
    const [x, y] = [half(at.x - drag.value.dx), half(at.y - drag.value.dy)]
    drag.value = { ...drag.value, x, y, moved: drag.value.moved || x !== drag.value.x || y !== drag.value.y }
  }
  function drop() {
    const d = drag.value
    drag.value = undefined
    if (d) done(d)
  }
  const shift = (p: Schemas['Part']) =>
    drag.value?.id === p.id ? `translate(${drag.value.x - (p.x_mm ?? 0)} ${drag.value.y - (p.y_mm ?? 0)})` : undefined
  return { grab, pull, drop, shift }
}
