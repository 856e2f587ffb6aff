// One part of the machine in space: faces in the colour of the sheet, edges in ink, and for what is round the two lines
// where its surface turns away from the eye.
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Group,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  ShapeUtils,
  Vector2,
  Vector3,
} from "three";
import { LineMaterial } from "three/addons/lines/LineMaterial.js";
import { LineSegments2 } from "three/addons/lines/LineSegments2.js";
import { LineSegmentsGeometry } from "three/addons/lines/LineSegmentsGeometry.js";

// The machine's z runs to the back, the canvas's to the eye.
const at = ([x, y, z]) => new Vector3(x, y, -z);

/** The colours of the page as it is lit now. */
export function inks(box) {
  const probe = document.createElement("i");
  box.append(probe);
  const of = (name) => {
    probe.style.color = `var(--${name})`;
    return new Color(getComputedStyle(probe).color);
  };
  const all = Object.fromEntries(
    [
      "ink",
      "lint",
      "white",
      "sheet",
      "sheet-deep",
      "felt",
      "felt-tint",
      "copper",
      "copper-tint",
    ].map((n) => [n, of(n)]),
  );
  probe.remove();
  return all;
}

const FILL = {
  drum: "sheet",
  bulkhead: "sheet",
  "front-felt": "felt-tint",
  "rear-felt": "felt-tint",
};
const BROAD = ["panel", "drum", "bulkhead", "cabinet"];

export class Piece {
  constructor(part, ink) {
    this.part = part;
    this.group = new Group();
    this.bodies = [];
    this.rounds = [];
    const [tight, slack] = [[], []];
    const edges = [];
    for (const solid of part.solids) {
      for (const face of solid.faces) this.face(face, tight, edges);
      if (solid.round) this.round(solid.round, tight, edges);
      if (solid.line.length > 1) {
        hose(solid.line, solid.thickMm / 2, tight);
        hose(
          solid.slack.length ? solid.slack : solid.line,
          solid.thickMm / 2,
          slack,
        );
      }
    }
    this.fill = new MeshBasicMaterial({
      side: DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: 2,
      polygonOffsetUnits: 8,
    });
    this.pen = new LineMaterial({ linewidth: 1.3 });
    // What is in question is seen through what is before it: its edges, dashed.
    this.through = [
      ...edges,
      ...part.solids.flatMap((solid) =>
        solid.line.slice(1).flatMap((p, i) => [at(solid.line[i]), at(p)]),
      ),
    ];
    this.tight = this.body(tight);
    this.slack = slack.length ? this.body(slack) : null;
    this.edges = this.lines(edges);
    this.turned = this.lines(this.rounds.length ? flat(this.rounds) : []);
    this.paint(ink, false);
  }

  face({ corners, openings }, triangles, edges) {
    const points = corners.map(at);
    const holes = openings.map((o) => o.map(at));
    // Flat in one of three directions: the two that are left are its own.
    const thin = [0, 1, 2].find((k) =>
      points.every(
        (p) => Math.abs(p.getComponent(k) - points[0].getComponent(k)) < 1e-6,
      ),
    );
    const [a, b] = [0, 1, 2].filter((k) => k !== thin);
    const down = (p) => new Vector2(p.getComponent(a), p.getComponent(b));
    const all = [points, ...holes].flat();
    const shape = points.map(down);
    const cut = holes.map((h) => h.map(down));
    for (const t of ShapeUtils.triangulateShape(shape, cut))
      triangles.push(...t.map((i) => all[i]));
    for (const loop of [points, ...holes])
      loop.forEach((p, i) => edges.push(p, loop[(i + 1) % loop.length]));
  }

  round(r, triangles, edges) {
    const along = new Vector3(
      ...["x", "y", "z"].map((k) => (k === r.axis ? 1 : 0)),
    );
    along.z *= -1;
    const u = new Vector3(along.y, Math.abs(along.z), Math.abs(along.x));
    const v = new Vector3().crossVectors(along, u);
    const from = at(r.at);
    const to = from.clone().addScaledVector(along, r.lengthMm);
    const n = r.diameterMm < 40 ? 16 : r.diameterMm < 160 ? 32 : 64;
    const ring = (centre, radius) =>
      Array.from({ length: n }, (_, i) => {
        const t = (i * 2 * Math.PI) / n;
        return centre
          .clone()
          .addScaledVector(u, radius * Math.cos(t))
          .addScaledVector(v, radius * Math.sin(t));
      });
    const radii = [r.diameterMm / 2, r.innerMm / 2].filter((x) => x > 0);
    const rings = radii.map((radius) => [ring(from, radius), ring(to, radius)]);
    const quad = (a, b, c, d) => triangles.push(a, b, c, a, c, d);
    for (const [low, high] of rings) {
      for (let i = 0; i < n; i++) {
        const j = (i + 1) % n;
        quad(low[i], low[j], high[j], high[i]);
        edges.push(low[i], low[j], high[i], high[j]);
      }
    }
    for (const end of [0, 1]) {
      for (let i = 0; i < n; i++) {
        const j = (i + 1) % n;
        if (rings.length === 2)
          quad(
            rings[0][end][i],
            rings[0][end][j],
            rings[1][end][j],
            rings[1][end][i],
          );
        else
          triangles.push(end ? to : from, rings[0][end][i], rings[0][end][j]);
      }
    }
    for (const radius of radii) this.rounds.push({ from, to, along, radius });
  }

  body(points) {
    const geometry = new BufferGeometry();
    geometry.setAttribute(
      "position",
      new BufferAttribute(
        new Float32Array(points.flatMap((p) => [p.x, p.y, p.z])),
        3,
      ),
    );
    const mesh = new Mesh(geometry, this.fill);
    mesh.userData.part = this.part.id;
    this.bodies.push(mesh);
    this.group.add(mesh);
    return mesh;
  }

  lines(points, pen = this.pen) {
    if (points.length === 0) return null;
    const geometry = new LineSegmentsGeometry();
    geometry.setPositions(points.flatMap((p) => [p.x, p.y, p.z]));
    const lines = new LineSegments2(geometry, pen);
    lines.frustumCulled = false;
    this.group.add(lines);
    return lines;
  }

  /** Where it is after so many steps. */
  stand(steps, done, parts) {
    const own = whenGone(this.part.id, steps);
    const carrier = parts.find((p) => p.id === this.part.on);
    const carried = carrier ? whenGone(carrier.id, steps) : -1;
    const gone = [own, carried].filter((k) => k >= 0);
    this.group.visible = gone.every((k) => done < k + 1 + 1e-6);
    const move = new Matrix4();
    for (const k of gone) {
      const far = Math.min(1, Math.max(0, done - k));
      move.premultiply(shift(steps[k].path, far, steps[k].apart));
    }
    if (own < 0 || done <= own) {
      const holder = this.part.on || this.part.id;
      steps.forEach((step, k) => {
        const far = Math.min(1, Math.max(0, done - k));
        const swing = step.swings.find(
          (s) => s.part === this.part.id || s.part === this.part.on,
        );
        if (swing && !(carried >= 0 && done > carried))
          move.premultiply(swung(swing, far));
        if (step.shifts.includes(this.part.id) || step.shifts.includes(holder))
          move.premultiply(shift(step.path, far, 1));
      });
    }
    this.group.matrixAutoUpdate = false;
    this.group.matrix.copy(move);
    this.group.matrixWorldNeedsUpdate = true;
    this.moved = gone.some((k) => done > k) && this.group.visible;
    if (this.slack) {
      const k = steps.findIndex((s) => s.frees.includes(this.part.id));
      const hangs = k >= 0 && done > k + 0.5;
      this.tight.visible = !hangs;
      this.slack.visible = hangs;
    }
  }

  paint(ink, chosen) {
    const kind = this.part.kind;
    const broad = BROAD.includes(kind);
    const line = this.part.solids.every((s) => s.line.length > 1);
    this.fill.color.copy(
      chosen
        ? ink[broad ? "copper-tint" : "copper"]
        : line
          ? ink[kind === "belt" ? "ink" : "lint"]
          : ink[FILL[kind] ?? "white"],
    );
    this.pen.color.copy(
      chosen && broad ? ink.copper : kind === "cabinet" ? ink.lint : ink.ink,
    );
    this.pen.linewidth = chosen ? 2.4 : this.moved ? 1.8 : 1.3;
    if (chosen && !this.ghost) {
      this.dashes = new LineMaterial({
        linewidth: 1.6,
        dashed: true,
        dashSize: 14,
        gapSize: 10,
        depthTest: false,
      });
      this.ghost = this.lines(this.through, this.dashes);
      this.ghost?.computeLineDistances();
    }
    if (this.ghost) {
      this.ghost.visible = chosen;
      this.dashes.color.copy(ink.copper);
    }
  }

  /** The lines where what is round turns away from the eye. */
  outline(camera, sheet) {
    this.pen.resolution.copy(sheet);
    this.dashes?.resolution.copy(sheet);
    if (!this.turned || !this.group.visible) return;
    const eye = new Vector3(0, 0, 1)
      .transformDirection(camera.matrixWorld)
      .transformDirection(this.group.matrix.clone().invert());
    const points = [];
    for (const { from, to, along, radius } of this.rounds) {
      const side = new Vector3().crossVectors(along, eye);
      if (side.lengthSq() < 1e-6) side.set(0, 0, 0);
      else side.normalize().multiplyScalar(radius);
      for (const sign of [1, -1]) {
        points.push(
          from.clone().addScaledVector(side, sign),
          to.clone().addScaledVector(side, sign),
        );
      }
    }
    this.turned.geometry.setPositions(points.flatMap((p) => [p.x, p.y, p.z]));
  }

  leave() {
    this.group.removeFromParent();
    this.group.traverse((o) => o.geometry?.dispose());
    this.fill.dispose();
    this.pen.dispose();
    this.dashes?.dispose();
  }
}

/** Rings round the screws, clips and plugs of the step to come: as large on the screen from near and from far. */
export class Marks {
  constructor(ink) {
    this.group = new Group();
    this.pen = new LineMaterial({ linewidth: 2, depthTest: false });
    this.pen.color.copy(ink.copper);
    this.places = [];
  }

  of(places) {
    this.places = places.map(at);
  }

  outline(camera, sheet) {
    this.leave();
    if (this.places.length === 0) return;
    this.pen.resolution.copy(sheet);
    const radius = (5 * (camera.top - camera.bottom)) / camera.zoom / sheet.y;
    const [right, up] = [new Vector3(), new Vector3()];
    camera.matrixWorld.extractBasis(right, up, new Vector3());
    const points = this.places.flatMap((place) =>
      Array.from({ length: 12 }, (_, i) =>
        [i, i + 1].map((k) =>
          place
            .clone()
            .addScaledVector(right, radius * Math.cos((k * Math.PI) / 6))
            .addScaledVector(up, radius * Math.sin((k * Math.PI) / 6)),
        ),
      ).flat(),
    );
    const geometry = new LineSegmentsGeometry();
    geometry.setPositions(points.flatMap((p) => [p.x, p.y, p.z]));
    this.rings = new LineSegments2(geometry, this.pen);
    this.rings.frustumCulled = false;
    this.rings.renderOrder = 1;
    this.group.add(this.rings);
  }

  leave() {
    this.rings?.removeFromParent();
    this.rings?.geometry.dispose();
    this.rings = null;
  }
}

const flat = (rounds) => rounds.flatMap((r) => [r.from, r.to, r.from, r.to]);

const whenGone = (id, steps) => steps.findIndex((s) => s.off.includes(id));

/** So far along a way, drawn out. */
function shift(path, far, apart) {
  const move = new Matrix4();
  if (path.length < 2 || far <= 0) return move;
  const along = far * (path.length - 1);
  const i = Math.min(path.length - 2, Math.floor(along));
  const [a, b] = [at(path[i]), at(path[i + 1])];
  const to = a.lerp(b, along - i).multiplyScalar(apart);
  return move.setPosition(to);
}

/** Turned about its hinge. The machine's axes are left-handed: about x and y the sense is the other way, about z too
 * since it is looked along from the front. */
function swung({ about, axis, radians }, far) {
  const centre = at(about);
  const turn = new Matrix4()[
    ["makeRotationX", "makeRotationY", "makeRotationZ"][axis]
  ]((axis === 2 ? 1 : -1) * radians * far);
  return new Matrix4()
    .makeTranslation(centre)
    .multiply(turn)
    .multiply(new Matrix4().makeTranslation(centre.clone().negate()));
}

/** A line with a thickness, of eight sides. */
function hose(line, radius, triangles) {
  const points = line.map(at);
  for (let i = 0; i + 1 < points.length; i++) {
    const along = points[i + 1].clone().sub(points[i]);
    if (along.lengthSq() < 1e-9) continue;
    along.normalize();
    const u = new Vector3(
      Math.abs(along.x) < 0.9 ? 1 : 0,
      Math.abs(along.x) < 0.9 ? 0 : 1,
      0,
    )
      .cross(along)
      .normalize();
    const v = new Vector3().crossVectors(along, u);
    const ring = (p) =>
      Array.from({ length: 8 }, (_, k) => {
        const t = (k * Math.PI) / 4;
        return p
          .clone()
          .addScaledVector(u, radius * Math.cos(t))
          .addScaledVector(v, radius * Math.sin(t));
      });
    const [a, b] = [ring(points[i]), ring(points[i + 1])];
    for (let k = 0; k < 8; k++) {
      const n = (k + 1) % 8;
      triangles.push(a[k], a[n], b[n], a[k], b[n], b[k]);
    }
  }
}
