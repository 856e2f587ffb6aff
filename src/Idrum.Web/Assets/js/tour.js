// A machine turned by the finger: the same solids as in every picture, drawn as lines, loaded only on this page.
import {
  OrthographicCamera,
  Raycaster,
  Scene,
  Spherical,
  Vector2,
  Vector3,
  WebGLRenderer,
} from "three";
import { OrbitControls } from "three/addons/controls/OrbitControls.js";
import { inks, Marks, Piece } from "./tour-piece.js";

const EYES = {
  door: [0, Math.PI / 2],
  behind: [Math.PI, Math.PI / 2],
  left: [-Math.PI / 2, Math.PI / 2],
  right: [Math.PI / 2, Math.PI / 2],
  above: [0, 0.001],
  slanting: [0.555, 1.17],
  // Where a part is reached from behind one begins there.
  rear: [Math.PI - 0.555, 1.17],
};
const TURN = Math.PI / 18;

class Tour {
  constructor(box, main) {
    this.box = box;
    this.main = main;
    this.told = JSON.parse(box.querySelector("[data-scene]").textContent);
    this.said = main.querySelector("[data-tour-said]");
    this.range = main.querySelector("#tour-at");
    this.at = Number(this.range.value);
    this.renderer = new WebGLRenderer({
      antialias: true,
      alpha: true,
      // Kept, so that the page can be printed.
      preserveDrawingBuffer: true,
    });
    this.canvas = this.renderer.domElement;
    this.canvas.tabIndex = 0;
    this.canvas.setAttribute("role", "application");
    this.canvas.setAttribute(
      "aria-label",
      "The machine, to be turned: arrow keys turn it, plus and minus bring it nearer, comma and full stop take a step off or put it back. The list says what each part is.",
    );
    box.querySelector("[data-flat]").hidden = true;
    box.append(this.canvas);
    this.space = new Scene();
    const [w, h, d] = this.told.size;
    this.middle = new Vector3(w / 2, h / 2, -d / 2);
    this.reach = Math.hypot(w, h, d) / 2;
    this.camera = new OrthographicCamera(-1, 1, 1, -1, 1, 20 * this.reach);
    this.controls = new OrbitControls(this.camera, this.canvas);
    this.controls.target.copy(this.middle);
    this.controls.minZoom = 0.4;
    this.controls.maxZoom = 8;
    this.controls.addEventListener("change", () => this.draw());
    this.chosen = main.querySelector("details[data-part][open]")?.dataset.part;
    this.dress();
    this.look(
      box.dataset.tour ||
        main.querySelector("[data-eye][aria-current]")?.dataset.eye,
    );
    this.fit();
    this.listen();
  }

  /** Builds all parts in the colours of the day or of the cellar. */
  dress() {
    this.pieces?.forEach((p) => p.leave());
    this.inks = inks(this.box);
    this.pieces = this.told.parts.map((part) => new Piece(part, this.inks));
    this.pieces.forEach((p) => this.space.add(p.group));
    this.marks?.leave();
    this.marks = new Marks(this.inks);
    this.space.add(this.marks.group);
    this.light = document.documentElement.dataset.light;
    this.place();
  }

  /** Puts every part where it is after so many steps, part of a step among them. */
  place() {
    for (const piece of this.pieces) {
      piece.stand(this.told.steps, this.at, this.told.parts);
      piece.paint(this.inks, piece.part.id === this.chosen);
    }
    this.marks.of(this.told.steps[Math.floor(this.at + 1e-6)]?.marks ?? []);
    const step = Math.ceil(this.at - 1e-6);
    const words =
      step === 0
        ? "Whole"
        : `${step} of ${this.told.steps.length}: ${this.told.steps[step - 1].name}`;
    if (this.said.textContent !== words) this.said.textContent = words;
  }

  fit() {
    const { clientWidth: wide, clientHeight: high } = this.box;
    if (wide === 0 || high === 0) return;
    const half = this.reach * 0.98;
    const [x, y] = wide > high ? [wide / high, 1] : [1, high / wide];
    Object.assign(this.camera, {
      left: -half * x,
      right: half * x,
      top: half * y,
      bottom: -half * y,
    });
    this.camera.updateProjectionMatrix();
    this.renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    this.renderer.setSize(wide, high, false);
    this.sheet = new Vector2(wide, high);
    this.draw();
  }

  look(eye) {
    const [round, down] = EYES[eye] ?? EYES.slanting;
    this.turnTo(new Spherical(10 * this.reach, down, round));
    for (const a of this.main.querySelectorAll("[data-eye]")) {
      if (a.dataset.eye === eye) a.setAttribute("aria-current", "true");
      else a.removeAttribute("aria-current");
    }
  }

  turnTo(place) {
    place.phi = Math.min(Math.PI - 0.001, Math.max(0.001, place.phi));
    this.camera.position.setFromSpherical(place).add(this.middle);
    this.controls.target.copy(this.middle);
    this.controls.update();
    this.draw();
  }

  turn(round, down) {
    const place = new Spherical().setFromVector3(
      this.camera.position.clone().sub(this.controls.target),
    );
    place.theta += round;
    place.phi += down;
    this.turnTo(place);
    this.main
      .querySelector("[data-eye][aria-current]")
      ?.removeAttribute("aria-current");
  }

  zoom(by) {
    this.camera.zoom = Math.min(8, Math.max(0.4, this.camera.zoom * by));
    this.camera.updateProjectionMatrix();
    this.draw();
  }

  /** To a number of steps; in whole steps it goes there by itself, so that one sees the motion. */
  go(to) {
    const goal = Math.min(this.told.steps.length, Math.max(0, to));
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const from = this.at;
    const begun = performance.now();
    cancelAnimationFrame(this.going);
    const frame = (now) => {
      const part = still ? 1 : Math.min(1, Math.max(0, (now - begun) / 450));
      this.at = from + (goal - from) * part;
      this.range.value = this.at;
      this.place();
      this.draw();
      if (part < 1) this.going = requestAnimationFrame(frame);
    };
    frame(begun);
  }

  choose(id, from) {
    this.chosen = id;
    const entry = [...this.main.querySelectorAll("details[data-part]")].find(
      (d) => d.dataset.part === id,
    );
    if (entry && from === "picture") {
      entry.open = true;
      entry.scrollIntoView({ block: "nearest" });
    }
    this.place();
    this.draw();
  }

  /** What is under a tap. */
  hit(event) {
    const r = this.canvas.getBoundingClientRect();
    const ray = new Raycaster();
    ray.setFromCamera(
      new Vector2(
        ((event.clientX - r.left) / r.width) * 2 - 1,
        1 - ((event.clientY - r.top) / r.height) * 2,
      ),
      this.camera,
    );
    const bodies = this.pieces
      .filter((p) => p.group.visible)
      .flatMap((p) => p.bodies);
    return ray.intersectObjects(bodies, false)[0]?.object.userData.part;
  }

  key(event) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const step = Math.round(this.at);
    const act = {
      ArrowLeft: () => this.turn(-TURN, 0),
      ArrowRight: () => this.turn(TURN, 0),
      ArrowUp: () => this.turn(0, -TURN),
      ArrowDown: () => this.turn(0, TURN),
      "+": () => this.zoom(1.25),
      "=": () => this.zoom(1.25),
      "-": () => this.zoom(0.8),
      ".": () => this.go(step + 1),
      ",": () => this.go(step - 1),
      Home: () => {
        this.camera.zoom = 1;
        this.look("slanting");
        this.fit();
      },
    }[event.key];
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    act();
  }

  listen() {
    let down = null;
    this.canvas.addEventListener("keydown", (e) => this.key(e));
    this.canvas.addEventListener("pointerdown", (e) => {
      down = [e.clientX, e.clientY];
    });
    this.canvas.addEventListener("pointerup", (e) => {
      if (
        down &&
        Math.hypot(e.clientX - down[0], e.clientY - down[1]) < 6 &&
        this.hit(e)
      )
        this.choose(this.hit(e), "picture");
      down = null;
    });
    this.range.addEventListener("input", () => {
      cancelAnimationFrame(this.going);
      this.at = Number(this.range.value);
      this.place();
      this.draw();
    });
    this.main.addEventListener(
      "click",
      (e) => {
        const turn = e.target.closest?.("[data-turn]");
        if (turn) this.go(Math.round(this.at) + Number(turn.dataset.turn));
        const eye = e.target.closest?.("[data-eye]");
        if (!eye) return;
        e.preventDefault();
        e.stopPropagation();
        this.look(eye.dataset.eye);
      },
      true,
    );
    for (const entry of this.main.querySelectorAll("details[data-part]")) {
      entry.addEventListener("toggle", () => {
        if (entry.open) this.choose(entry.dataset.part, "list");
        else if (this.chosen === entry.dataset.part) this.choose(null, "list");
      });
    }
    this.sizes = new ResizeObserver(() => this.fit());
    this.sizes.observe(this.box);
    this.lights = new MutationObserver(() => {
      if (document.documentElement.dataset.light !== this.light) {
        this.dress();
        this.draw();
      }
    });
    this.lights.observe(document.documentElement, {
      attributeFilter: ["data-light"],
    });
  }

  draw() {
    if (this.drawing) return;
    this.drawing = requestAnimationFrame(() => {
      this.drawing = 0;
      if (!this.box.isConnected) return this.leave();
      this.camera.updateMatrixWorld();
      for (const piece of this.pieces) piece.outline(this.camera, this.sheet);
      this.marks.outline(this.camera, this.sheet);
      this.renderer.render(this.space, this.camera);
      this.box.dataset.drawn = this.at.toFixed(2);
      this.box.dataset.zoom = this.camera.zoom.toFixed(2);
      this.box.dataset.seen = new Spherical()
        .setFromVector3(this.camera.position.clone().sub(this.controls.target))
        .theta.toFixed(3);
    });
  }

  leave() {
    this.sizes?.disconnect();
    this.lights?.disconnect();
    this.controls.dispose();
    this.pieces.forEach((p) => p.leave());
    this.marks.leave();
    this.renderer.dispose();
  }
}

function begin() {
  const box = document.querySelector("[data-tour]:not([data-begun])");
  if (!box) return;
  box.dataset.begun = "";
  const main = box.closest("[data-tour-page]");
  try {
    new Tour(box, main);
    main.querySelector("[data-tour-keys]").hidden = false;
    main.querySelector("[data-tour-steps]").hidden = false;
  } catch (wrong) {
    // No drawing in space here: the flat picture stays, moved step by step.
    console.info(wrong);
    box.querySelector("canvas")?.remove();
    box.querySelector("[data-flat]").hidden = false;
    main.querySelector("[data-tour-not]").hidden = false;
    main.querySelector("#tour-at").step = 1;
    main
      .querySelector("#tour-at")
      .addEventListener("change", (e) => e.target.form.requestSubmit());
  }
}

if (!window.idrumTour) {
  window.idrumTour = true;
  document.addEventListener("htmx:afterSettle", begin);
}
begin();
