/** Numbers that a new probe begins with, from the middle of the usual ranges. */
export const USUAL = {
  effective_diameter: null,
  effective_x: null,
  effective_y: null,
  qualified_feed: null,
  off_x: 0,
  off_y: 0,
  angle_deg: null,
  search_feed: 300,
  measure_feed: 60,
  guarded_feed: 800,
  back_off: 1.5,
  overtravel_across: 8,
  overtravel_up: 4,
  trigger_travel: 0,
  touches: 1,
  spread: 0.02,
  repeatability: 0.005,
  latency: 0,
  polling: 0,
  effective_uncertainty: 0,
  length_uncertainty: 0,
  lobing: 0,
  artefact: null,
  due_days: 30,
};

/** Of what hardly gives. */
export const RIGID = { ...USUAL, search_feed: 150, measure_feed: 40, overtravel_across: 1, overtravel_up: 0.5 };
