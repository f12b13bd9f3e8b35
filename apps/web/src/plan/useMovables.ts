import type { PlanPlace } from '@yield/core';
import { useState, type KeyboardEvent, type PointerEvent } from 'react';

const KEYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface Options {
  /** of what the plan holds, by a name of the caller's */
  places: Readonly<Record<string, PlanPlace>>;
  /** a point of the picture, as shares of its width and height, in metres of the plan */
  fromPicture: (share: { x: number; y: number }) => PlanPlace;
  /** keeps a place within the plan */
  within: (place: PlanPlace) => PlanPlace;
  /** one press of an arrow key, in metres */
  keyMetre: number;
  onMoved: (name: string, place: PlanPlace) => void;
}

export interface Movables {
  /** where it is now: under the hand, or where it is kept */
  placeOf: (name: string) => PlanPlace;
  /** for what is moved */
  grip: (name: string) => {
    tabIndex: number;
    role: 'button';
    onPointerDown: (event: PointerEvent<SVGGElement>) => void;
    onKeyDown: (event: KeyboardEvent<SVGGElement>) => void;
  };
  /** for the picture that they lie in */
  ground: {
    onPointerMove: (event: PointerEvent<SVGSVGElement>) => void;
    onPointerUp: () => void;
    onPointerCancel: () => void;
  };
}

/** Things on a plan that are dragged, or moved by arrow keys. What is dragged is kept when it is let go. */
export function useMovables({ places, fromPicture, within, keyMetre, onMoved }: Options): Movables {
  const [held, setHeld] = useState<string>();
  const [moved, setMoved] = useState<{ name: string; place: PlanPlace }>();
  const placeOf = (name: string): PlanPlace => (moved?.name === name ? moved.place : places[name]!);
  const drop = (): void => {
    if (moved !== undefined) onMoved(moved.name, moved.place);
    setHeld(undefined);
    setMoved(undefined);
  };
  return {
    placeOf,
    grip: (name) => ({
      tabIndex: 0,
      role: 'button',
      onPointerDown: (event) => {
        setHeld(name);
        event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
      },
      onKeyDown: (event) => {
        const by = KEYS[event.key];
        if (by === undefined) return;
        event.preventDefault();
        const at = placeOf(name);
        onMoved(name, within({ x: at.x + by[0] * keyMetre, y: at.y + by[1] * keyMetre }));
      },
    }),
    ground: {
      onPointerMove: (event) => {
        if (held === undefined) return;
        const box = event.currentTarget.getBoundingClientRect();
        const share = { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height };
        setMoved({ name: held, place: within(fromPicture(share)) });
      },
      onPointerUp: drop,
      onPointerCancel: drop,
    },
  };
}
