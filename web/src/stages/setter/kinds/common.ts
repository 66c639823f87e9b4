/** Numbers that a new setter begins with, from the middle of the usual ranges. */
export const USUAL = {
  overtravel: 4,
  trigger_travel: 0,
  search_feed: 300,
  measure_feed: 60,
  margin: 15,
  back_off: 2,
  touches: 2,
  spread: 0.02,
  repeatability: 0.01,
  latency: 0,
  polling: 0,
  plane_feed: null,
  touched_from: "above" as const,
  turning_speed: 300,
  work_offset: null,
};
