import { ConeGeometry, Mesh, MeshStandardMaterial, Vector3, type Group, type Scene } from 'three';
import { normalTurn } from '@/core/math/turn';
import type { Eyes } from '@/core/meeting/eyes';
import type { CoordinateFrame } from '../coordinate-frame';
import type { Feature } from './feature';
import { person } from './person-figure';

/** Eye height of the plain figure, metres. */
const FIGURE_EYE = 1.58;
/** Somebody nearer than this looks from where one looks oneself, metres. */
const TOO_NEAR = 0.7;
/** Part of the way to where somebody is by now that is closed each frame. */
const GLIDE_SHARE = 0.25;
const NEAR = 0.004;

interface Walker {
  group: Group;
  goal: Vector3;
  turn: number;
}

/** The others who stand in the model: plain figures that face where they look. */
export class Figures implements Feature {
  private readonly walkers = new Map<string, Walker>();

  constructor(
    private readonly scene: Scene,
    private readonly frame: CoordinateFrame,
  ) {}

  /** @param people by participant, those who stand */
  show(people: Readonly<Record<string, Eyes>>): void {
    for (const [id, { group }] of this.walkers)
      if (people[id]?.stands == null) {
        group.removeFromParent();
        this.walkers.delete(id);
      }
    for (const [id, { at, towards, stands }] of Object.entries(people)) {
      if (stands === null) continue;
      const goal = this.frame.toStage([at[0], at[1], at[2] - stands]);
      const turn = Math.atan2(towards[1], towards[0]);
      const known = this.walkers.get(id);
      if (known) Object.assign(known, { goal, turn });
      else this.walkers.set(id, { group: this.add(goal, turn), goal, turn });
      this.walkers.get(id)!.group.scale.setScalar(stands / FIGURE_EYE);
    }
  }

  /** Goes on for a frame. @param eye the camera: nobody stands in it @returns whether somebody still moves */
  step(eye: Vector3): boolean {
    let moves = false;
    for (const { group, goal, turn } of this.walkers.values()) {
      const gap = goal.distanceTo(group.position);
      const lack = normalTurn(turn - group.rotation.z);
      if (gap > NEAR || Math.abs(lack) > NEAR) {
        group.position.lerp(goal, GLIDE_SHARE);
        group.rotation.z += lack * GLIDE_SHARE;
        moves = true;
      }
      group.visible = Math.hypot(group.position.x - eye.x, group.position.y - eye.y) > TOO_NEAR;
    }
    return moves;
  }

  /** Above the head of somebody's figure, in stage coordinates; null where none shows. */
  headOf(id: string): Vector3 | null {
    const group = this.walkers.get(id)?.group;
    return group?.visible ? group.position.clone().add(new Vector3(0, 0, 1.85 * group.scale.z)) : null;
  }

  dispose(): void {
    for (const { group } of this.walkers.values()) group.removeFromParent();
    this.walkers.clear();
  }

  private add(at: Vector3, turn: number): Group {
    const group = person();
    // A cap's peak says where somebody looks.
    const peak = new Mesh(
      new ConeGeometry(0.07, 0.2, 16),
      new MeshStandardMaterial({ color: '#9C3B2E', roughness: 1 }),
    );
    peak.rotation.z = -Math.PI / 2;
    peak.position.set(0.17, 0, FIGURE_EYE + 0.02);
    group.add(peak);
    group.position.copy(at);
    group.rotation.z = turn;
    this.scene.add(group);
    return group;
  }
}
