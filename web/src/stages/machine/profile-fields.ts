/** The fields of a control profile, in groups, with what may be chosen. */
import type { ControlProfile } from "../../api/client";

export type Field =
  | { field: keyof ControlProfile; label: string; yes: true; hint?: string }
  | { field: keyof ControlProfile; label: string; choices: [string, string][]; hint?: string }
  | { field: keyof ControlProfile; label: string; number: true; empty?: boolean; hint?: string }
  | { field: keyof ControlProfile; label: string; text: true; hint?: string };

export const GROUPS: [string, Field[]][] = [
  [
    "Name",
    [
      { field: "name", label: "Name", text: true },
      { field: "description", label: "Description", text: true },
    ],
  ],
  [
    "Working things out",
    [
      { field: "arithmetic", label: "Parameters and arithmetic", yes: true },
      { field: "conditions", label: "Conditions and jumps", yes: true },
      {
        field: "record",
        label: "Record of the tool",
        choices: [
          ["parameter", "in a parameter"],
          ["entry card", "on an entry card"],
        ],
      },
    ],
  ],
  [
    "Touching",
    [
      {
        field: "touch_stops",
        label: "Stops at a miss: G",
        number: true,
        empty: true,
        hint: "Empty: it has no such word.",
      },
      {
        field: "touch_goes_on",
        label: "Goes on after a miss: G",
        number: true,
        empty: true,
        hint: "Empty: it has no such word.",
      },
      {
        field: "latched",
        label: "Latched position",
        choices: [
          ["part", "in part coordinates"],
          ["machine", "in machine coordinates"],
          ["none", "not available to a program"],
        ],
      },
    ],
  ],
  [
    "Setting",
    [
      {
        field: "offset_word",
        label: "A work offset by",
        choices: [
          ["G10 L2", "G10 L2, its machine place"],
          ["G10 L20", "G10 L20, the readout here"],
          ["entry card", "the entry card"],
        ],
      },
      {
        field: "length_word",
        label: "A tool's length by",
        choices: [
          ["G10 L1", "G10 L1"],
          ["entry card", "the entry card"],
        ],
      },
    ],
  ],
  [
    "Outputs, waits, stops",
    [
      { field: "grip_close", label: "Grip closes", text: true },
      { field: "grip_open", label: "Grip opens", text: true },
      { field: "orient", label: "Spindle orients", text: true },
      {
        field: "wait",
        label: "Waits for an input",
        choices: [
          ["loop", "in a loop of dwells"],
          ["none", "can't"],
        ],
      },
      { field: "wait_pause", label: "Each dwell of the loop, s", number: true },
      {
        field: "message",
        label: "Messages",
        choices: [
          ["remark", "as (MSG, …)"],
          ["none", "as a plain remark"],
        ],
      },
      { field: "pause", label: "Stop for the technician", text: true },
      { field: "end", label: "End of the program", text: true },
      { field: "back", label: "Back to the caller", text: true },
    ],
  ],
  [
    "How numbers stand",
    [
      {
        field: "unit",
        label: "Unit",
        choices: [
          ["mm", "millimetres, G21"],
          ["inch", "inches, G20"],
        ],
      },
      { field: "decimals", label: "Decimals", number: true },
      { field: "trailing_zeros", label: "Trailing zeros", yes: true },
      {
        field: "dwell_letter",
        label: "Letter of a dwell",
        choices: [
          ["P", "P"],
          ["X", "X"],
        ],
      },
      {
        field: "dwell_seconds",
        label: "Dwell unit",
        number: true,
        hint: "1 for seconds, 0.001 for milliseconds.",
      },
    ],
  ],
  [
    "The file",
    [
      { field: "line_numbers", label: "Line numbers in steps of", number: true, hint: "0: none." },
      { field: "percent_signs", label: "Percent signs around it", yes: true },
      { field: "file_ending", label: "File ending", text: true },
    ],
  ],
  [
    "Call of an exchange",
    [
      {
        field: "exchange_call",
        label: "Called by",
        choices: [
          ["T M6", "T and M6"],
          ["G65", "G65 with both tools"],
        ],
      },
      { field: "exchange_program", label: "Program number", number: true },
    ],
  ],
];

export const PARAMETERS: [keyof ControlProfile["parameters"], string][] = [
  ["exchange_from", "Tool in the spindle"],
  ["exchange_to", "Requested tool"],
  ["record", "Record of the tool"],
  ["record_doubtful", "Record is doubtful"],
  ["touch_made", "Last touch was made"],
  ["latched_first", "Latched position, first of three"],
  ["called_at_first", "Place of the call, first of three"],
  ["called_unit", "Unit at the call"],
  ["called_distance", "Absolute or relative at the call"],
  ["input_first", "State of input n: this + n"],
  ["working_first", "For working, from here on"],
];
