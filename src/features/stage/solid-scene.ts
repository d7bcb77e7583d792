import {
  BufferAttribute,
  BufferGeometry,
  DataTexture,
  DoubleSide,
  Mesh,
  PerspectiveCamera,
  Scene,
  ShaderMaterial,
  Vector3,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/addons/controls/OrbitControls.js';
import { MAX_LAYERS } from '#core/base/raster.ts';
import type { LayerGrid } from '#core/stack/layer-grid.ts';

/** The shape to show: a mesh with z = 0 at the plate, mm. */
export interface SolidShape {
  readonly positions: Float32Array<ArrayBuffer>;
  readonly triangles: Uint32Array<ArrayBuffer>;
  /** Entry of the looks for each corner, where that does not follow from its height. */
  readonly looks?: Float32Array<ArrayBuffer> | undefined;
  readonly widthMm: number;
  readonly heightMm: number;
}

/** What a layer looks like where the relief ends in it, and from the side, sRGB bytes. */
export interface LayerLook {
  readonly seen: readonly [number, number, number];
  readonly side: readonly [number, number, number];
}

const VERTEX = `
varying vec3 place;
varying vec3 world;
attribute float look;
varying float own;
void main() {
  place = position;
  own = look;
  vec4 at = modelMatrix * vec4(position, 1.0);
  world = at.xyz;
  gl_Position = projectionMatrix * viewMatrix * at;
}`;

/**
 * Level faces have the colour that is predicted for their height and are lit to just that colour; walls show the
 * filaments of their layers and are shaded by how they stand to the light.
 */
const FRAGMENT = `
uniform sampler2D looks;
uniform float firstMm;
uniform float baseLayerMm;
uniform float baseLayers;
uniform float layerMm;
uniform float layers;
uniform vec3 light;
uniform bool byLook;
varying vec3 place;
varying vec3 world;
varying float own;
const float AMBIENT = 0.35;
vec3 linear(vec3 code) { return pow((code + 0.055) / 1.055, vec3(2.4)); }
vec3 coded(vec3 value) { return 1.055 * pow(clamp(value, 0.0, 1.0), vec3(1.0 / 2.4)) - 0.055; }
void main() {
  vec3 normal = normalize(cross(dFdx(world), dFdy(world)));
  bool level = normal.z > 0.9;
  float baseMm = firstMm + (baseLayers - 1.0) * baseLayerMm;
  float z = level ? place.z - 0.5 * min(firstMm, min(baseLayerMm, layerMm)) : place.z;
  float layer = z < firstMm ? 0.0
    : z < baseMm ? floor((z - firstMm) / baseLayerMm) + 1.0
    : floor((z - baseMm) / layerMm) + baseLayers;
  if (byLook) layer = floor(own + 0.5);
  float column = (min(layer, layers - 1.0) + 0.5) / ${MAX_LAYERS}.0;
  vec3 colour = texture2D(looks, vec2(column, level ? 0.25 : 0.75)).rgb;
  float lit = AMBIENT + (1.0 - AMBIENT) * max(dot(normal, light), 0.0) / light.z;
  gl_FragColor = vec4(level ? colour : coded(linear(colour) * lit), 1.0);
}`;

/** From the upper left, as light falls on a drawing. */
const LIGHT = new Vector3(-0.45, 0.5, 0.74).normalize();

const TURN = Math.PI / 18;

/** The relief in three dimensions on a canvas. It draws only when something has changed. */
export class SolidScene {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new PerspectiveCamera(32, 1, 1, 100_000);
  private readonly controls: OrbitControls;
  private readonly looks: DataTexture;
  private readonly material: ShaderMaterial;
  private solid: Mesh<BufferGeometry, ShaderMaterial> | undefined;
  private size = { widthMm: 1, heightMm: 1 };
  private frame = 0;
  private stretch = 1;

  /**
   * @param onDrawing hears when there is something to be drawn (true), and when it has been (false)
   * @throws Error where the browser has no WebGL 2
   */
  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly onDrawing: (drawing: boolean) => void,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.maxPolarAngle = Math.PI * 0.49;
    this.controls.addEventListener('change', this.draw);
    this.looks = new DataTexture(new Uint8Array(MAX_LAYERS * 2 * 4), MAX_LAYERS, 2);
    this.material = new ShaderMaterial({
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT,
      side: DoubleSide,
      uniforms: {
        looks: { value: this.looks },
        firstMm: { value: 0.1 },
        baseLayerMm: { value: 0.1 },
        baseLayers: { value: 1 },
        layerMm: { value: 0.1 },
        layers: { value: 1 },
        light: { value: LIGHT },
        byLook: { value: false },
      },
    });
  }

  /** Draws at the next frame. */
  readonly draw = (): void => {
    if (this.frame !== 0) return;
    this.onDrawing(true);
    this.frame = requestAnimationFrame(() => {
      this.frame = 0;
      this.renderer.render(this.scene, this.camera);
      this.canvas.dataset.painted = String(Number(this.canvas.dataset.painted ?? 0) + 1);
      this.canvas.dataset.triangles = String(this.renderer.info.render.triangles);
      this.onDrawing(false);
    });
  };

  resize(width: number, height: number): void {
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio));
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  setShape({ positions, triangles, looks, widthMm, heightMm }: SolidShape): void {
    const first = !this.solid;
    if (this.solid) {
      this.scene.remove(this.solid);
      this.solid.geometry.dispose();
    }
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(positions, 3));
    geometry.setIndex(new BufferAttribute(triangles, 1));
    if (looks) geometry.setAttribute('look', new BufferAttribute(looks, 1));
    const { byLook } = this.material.uniforms;
    if (byLook) byLook.value = looks !== undefined;
    this.solid = new Mesh(geometry, this.material);
    this.solid.position.set(-widthMm / 2, -heightMm / 2, 0);
    this.solid.scale.z = this.stretch;
    this.scene.add(this.solid);
    this.size = { widthMm, heightMm };
    if (first) this.reset();
    this.draw();
  }

  setLooks(layers: readonly LayerLook[], grid: LayerGrid): void {
    const bytes = this.looks.image.data as Uint8Array;
    layers.forEach(({ seen, side }, i) => {
      bytes.set([...seen, 255], 4 * i);
      bytes.set([...side, 255], 4 * (MAX_LAYERS + i));
    });
    this.looks.needsUpdate = true;
    const { firstLayerMm, layerMm, baseLayerMm = layerMm, baseLayers = 1 } = grid;
    const values = {
      firstMm: firstLayerMm,
      baseLayerMm,
      baseLayers,
      layerMm,
      layers: layers.length,
    };
    for (const [name, value] of Object.entries(values)) {
      const uniform = this.material.uniforms[name];
      if (uniform) uniform.value = value;
    }
    this.draw();
  }

  /** How many times taller than it is the relief is drawn. */
  setStretch(stretch: number): void {
    this.stretch = stretch;
    if (this.solid) this.solid.scale.z = stretch;
    this.draw();
  }

  setWireframe(on: boolean): void {
    this.material.wireframe = on;
    this.draw();
  }

  /** Puts the camera where it began: from the front and above, so that all is seen. */
  reset(): void {
    const across = Math.max(this.size.widthMm / this.camera.aspect, this.size.heightMm);
    const away = (across * 0.62) / Math.tan((this.camera.fov * Math.PI) / 360);
    this.controls.target.set(0, 0, 0);
    this.camera.position.set(-away * 0.22, -away * 0.62, away * 0.8);
    this.camera.near = away / 100;
    this.camera.far = away * 20;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.draw();
  }

  /** Turns the camera around the relief by steps of 10 degrees: around, and up. */
  turn(around: number, up: number): void {
    const offset = this.camera.position.clone().sub(this.controls.target);
    offset.applyAxisAngle(new Vector3(0, 0, 1), around * TURN);
    const sideways = new Vector3(0, 0, 1).cross(offset).normalize();
    const raised = offset.clone().applyAxisAngle(sideways, -up * TURN);
    // Neither over the top nor under the plate.
    const steep = raised.angleTo(new Vector3(0, 0, 1));
    if (steep > 0.02 && steep < Math.PI * 0.49) offset.copy(raised);
    this.camera.position.copy(this.controls.target).add(offset);
    this.controls.update();
    this.draw();
  }

  /** Goes nearer (above 1) or farther. */
  approach(factor: number): void {
    const offset = this.camera.position.clone().sub(this.controls.target).divideScalar(factor);
    this.camera.position.copy(this.controls.target).add(offset);
    this.controls.update();
    this.draw();
  }

  dispose(): void {
    cancelAnimationFrame(this.frame);
    this.controls.dispose();
    this.solid?.geometry.dispose();
    this.material.dispose();
    this.looks.dispose();
    this.renderer.dispose();
  }
}
