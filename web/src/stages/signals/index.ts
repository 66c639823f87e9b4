import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "signals", answer: "signals", Page: lazy(() => import("./signals")) };

export default stage;
