/** The faults of a proof in words. */
export const NAMES: Record<string, string> = {
  none: "as it should go",
  "grip-stays-shut": "the grip stays shut",
  "grip-stays-open": "the grip stays open",
  "sensor-dead": "a sensor is dead",
  "air-low": "the air is low",
  "tool-long": "a tool 10 mm longer",
  "tool-short": "a tool 10 mm shorter",
  "wrong-tool": "another tool in the pocket",
  "pocket-full": "the pocket is full",
  "pocket-empty": "the pocket is empty",
  "unit-other": "called in the other unit",
  "not-homed": "not homed",
  "override-low": "feed override at 10 %",
  "override-high": "feed override at 150 %",
  stopped: "stopped after any block",
};
