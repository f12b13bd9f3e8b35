/** Metres from the front left corner of the vehicle, seen from above: to the right, and to the rear. */
export interface PlanPlace {
  x: number;
  y: number;
}

/** Where everything is, seen from above; what nobody moved lies where it usually is. */
export interface FloorPlan {
  widthMetre?: number;
  lengthMetre?: number;
  isRightHandDrive?: boolean;
  /** the listener's head */
  head?: PlanPlace;
  /** by channel id */
  places?: Record<string, PlanPlace>;
  /** of the measuring microphone, by the name of the place */
  microphones?: Record<string, PlanPlace>;
}
