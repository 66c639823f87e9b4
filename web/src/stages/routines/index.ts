import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "routines", answer: "probing", Page: lazy(() => import("./routines")) };

export default stage;
