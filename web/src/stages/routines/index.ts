import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "routines", answer: "probing", plays: true, Page: lazy(() => import("./routines")) };

export default stage;
