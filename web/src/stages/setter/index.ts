import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "setter", answer: "measuring", Page: lazy(() => import("./setter")) };

export default stage;
