import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "setter", answer: "measuring", plays: true, Page: lazy(() => import("./setter")) };

export default stage;
