<script setup lang="ts">
// The brick in space: turned by pointer or by buttons, its layers and strips drawn apart. Loaded only when it is looked at.
import {
  AmbientLight,
  BoxGeometry,
  CylinderGeometry,
  DirectionalLight,
  EdgesGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
  PerspectiveCamera,
  Scene,
  Spherical,
  Vector3,
  WebGLRenderer,
} from 'three'
import type { BufferGeometry, Material, Object3D } from 'three'
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { Solid } from '../../api/types'

const props = defineProps<{ solid: Solid }>()

/** How far layers and strips are drawn apart: 0 as built, 1 a cell's length. */
const apart = ref(0)
const frame = ref<HTMLElement | null>(null)
const failed = ref(false)
const drawn = ref(0)

const METAL = '#c3c9cc'
const STRIP_MM = 0.6
const TURN = Math.PI / 12
/** Millimetres by which a strip is lifted off its cells when all is drawn apart. */
const LIFT_MM = 14

let renderer: WebGLRenderer | null = null
let controls: OrbitControls | null = null
let watcher: ResizeObserver | null = null
const scene = new Scene()
const camera = new PerspectiveCamera(35, 1.6, 1, 5000)
/** Millimetres of the compartment: x along its length, z up. */
const brick = new Group()
brick.rotation.x = -Math.PI / 2
scene.add(brick, new AmbientLight(0xffffff, 1.6))
const sun = new DirectionalLight(0xffffff, 1.8)
sun.position.set(300, 500, 400)
scene.add(sun)

/** Stands what is built upright along y in the direction of an axis. */
function along(object: Object3D, axis: number): void {
  if (axis === 0) object.rotation.z = -Math.PI / 2
  if (axis === 2) object.rotation.x = Math.PI / 2
}

function unit(axis: number): Vector3 {
  return new Vector3(axis === 0 ? 1 : 0, axis === 1 ? 1 : 0, axis === 2 ? 1 : 0)
}

function shift(layer: number, out = 0): Vector3 {
  const cell = props.solid.cells[0]
  const length = cell?.size_mm[props.solid.layers_along] ?? 0
  return unit(props.solid.layers_along).multiplyScalar(apart.value * (layer * length + out))
}

function body(geometry: BufferGeometry, fill: string, outlined = false): Object3D {
  const mesh = new Mesh(geometry, new MeshLambertMaterial({ color: fill }))
  if (outlined) {
    mesh.add(new LineSegments(new EdgesGeometry(geometry, 40), new LineBasicMaterial({ color: 0x1e2422 })))
  }
  return mesh
}

function clear(): void {
  brick.traverse((o) => {
    if (o instanceof Mesh || o instanceof LineSegments) {
      ;(o.geometry as BufferGeometry).dispose()
      ;(o.material as Material).dispose()
    }
  })
  brick.clear()
}

function build(): void {
  clear()
  for (const c of props.solid.cells) {
    const [length, wide] = [c.size_mm[c.axis] ?? 0, c.size_mm[(c.axis + 1) % 3] ?? 0]
    const deep = c.size_mm[(c.axis + 2) % 3] ?? 0
    const cell = new Group()
    for (const [up, fill] of [
      [1, c.top_fill],
      [-1, c.bottom_fill],
    ] as const) {
      const half = c.round
        ? body(new CylinderGeometry(wide / 2, wide / 2, length / 2, 40), fill, true)
        : body(
            new BoxGeometry(c.axis === 0 ? wide : deep, length / 2, c.axis === 0 ? deep : wide),
            fill,
            true,
          )
      half.position.y = (up * length) / 4
      cell.add(half)
    }
    if (c.round) {
      const nub = body(new CylinderGeometry(wide * 0.17, wide * 0.17, 1.4, 24), '#fbfaf5', true)
      nub.position.y = (c.plus_up ? 1 : -1) * (length / 2 + 0.5)
      cell.add(nub)
    }
    along(cell, c.axis)
    cell.position.set(...(c.middle_mm as [number, number, number])).add(shift(c.layer))
    brick.add(cell)
  }
  for (const s of props.solid.strips) {
    const [from, to] = [new Vector3(...s.from_mm), new Vector3(...s.to_mm)]
    const length = from.distanceTo(to) + s.width_mm
    const middle = from.clone().add(to).divideScalar(2)
    const strip = body(new BoxGeometry(s.width_mm, length, STRIP_MM), METAL, true)
    // y along the strip, z out of the face.
    const [y, z] = [to.clone().sub(from).normalize(), unit(s.axis)]
    const x = y.clone().cross(z)
    strip.matrixAutoUpdate = false
    const cell = props.solid.cells.find((c) => c.layer === s.layer)
    const out = Math.sign((middle.getComponent(s.axis) || 0) - (cell?.middle_mm[s.axis] ?? 0))
    middle.addScaledVector(z, out * STRIP_MM).add(shift(s.layer, out * LIFT_MM))
    strip.matrix.makeBasis(x, y, z).setPosition(middle)
    brick.add(strip)
  }
  const place = props.solid.place_mm
  if (place) {
    const [x, y, z] = place as [number, number, number]
    const walls = new LineSegments(
      new EdgesGeometry(new BoxGeometry(x, y, z)),
      new LineBasicMaterial({ color: 0x8a8270 }),
    )
    walls.position.set(x / 2, y / 2, z / 2)
    brick.add(walls)
  }
}

function draw(): void {
  renderer?.render(scene, camera)
  drawn.value += 1
}

/** Looks at the middle of the brick, from in front and above, so that all of it is seen. */
function look(): void {
  const cells = props.solid.cells
  const middle = new Vector3()
  cells.forEach((c) =>
    middle.add(new Vector3(...(c.middle_mm as [number, number, number])).add(shift(c.layer))),
  )
  middle.divideScalar(Math.max(1, cells.length)).applyEuler(brick.rotation)
  const reach = Math.max(
    ...cells.map((c) =>
      new Vector3(...(c.middle_mm as [number, number, number]))
        .add(shift(c.layer))
        .applyEuler(brick.rotation)
        .distanceTo(middle),
    ),
    20,
  )
  const size = Math.max(...(cells[0]?.size_mm ?? [20]))
  controls?.target.copy(middle)
  const away = (reach + size) * 2.5
  camera.position.copy(middle).add(new Vector3(-0.55, 0.62, 0.75).normalize().multiplyScalar(away))
  controls?.update()
}

/** Turns round the upright, or tips, by steps: what the pointer does, for those who have none. */
function turn(round: number, tip: number, nearer = 1): void {
  if (!controls) return
  const from = camera.position.clone().sub(controls.target)
  const at = new Spherical().setFromVector3(from)
  at.theta += round
  at.phi = Math.min(Math.PI - 0.05, Math.max(0.05, at.phi + tip))
  at.radius *= nearer
  camera.position.copy(controls.target).add(new Vector3().setFromSpherical(at))
  controls.update()
  draw()
}

onMounted(() => {
  const home = frame.value
  if (!home) return
  try {
    renderer = new WebGLRenderer({ antialias: true, alpha: true })
  } catch {
    failed.value = true
    return
  }
  home.append(renderer.domElement)
  renderer.setPixelRatio(Math.min(2, window.devicePixelRatio))
  controls = new OrbitControls(camera, renderer.domElement)
  // The wheel and a finger going up or down still scroll the page.
  controls.enableZoom = false
  renderer.domElement.style.touchAction = 'pan-y'
  controls.addEventListener('change', draw)
  watcher = new ResizeObserver(() => {
    const { clientWidth: w, clientHeight: h } = home
    renderer?.setSize(w, h)
    camera.aspect = w / Math.max(1, h)
    camera.updateProjectionMatrix()
    draw()
  })
  watcher.observe(home)
  build()
  look()
  draw()
})
watch(
  () => props.solid,
  () => {
    build()
    draw()
  },
)
watch(apart, () => {
  build()
  look()
  draw()
})
onBeforeUnmount(() => {
  watcher?.disconnect()
  controls?.dispose()
  clear()
  renderer?.dispose()
})
</script>

<template>
  <section class="space" data-testid="space">
    <p v-if="failed" class="soft">This browser cannot draw in 3D; the faces above show everything.</p>
    <div
      ref="frame"
      class="frame"
      role="img"
      :aria-label="`The brick in 3D: ${solid.cells.length} cells, ${solid.strips.length} strips`"
      :data-drawn="drawn"
    />
    <div class="tools">
      <v-btn size="small" aria-label="Turn left" @click="turn(-TURN, 0)">◀ Turn</v-btn>
      <v-btn size="small" aria-label="Turn right" @click="turn(TURN, 0)">Turn ▶</v-btn>
      <v-btn size="small" @click="turn(0, -TURN)">From above</v-btn>
      <v-btn size="small" @click="turn(0, TURN)">From below</v-btn>
      <v-btn size="small" @click="turn(0, 0, 0.85)">Zoom in</v-btn>
      <v-btn size="small" @click="turn(0, 0, 1 / 0.85)">Zoom out</v-btn>
      <v-slider
        v-model="apart"
        class="apart"
        label="Apart"
        aria-label="Layers and strips apart"
        :min="0"
        :max="1"
        :step="0.05"
        hide-details
      />
    </div>
  </section>
</template>

<style scoped>
.frame {
  height: 420px;
  border: 1px solid var(--line);
  background: var(--sheet);
  overflow: hidden;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}

.apart {
  flex: 1 1 200px;
  min-width: 180px;
}
</style>
