import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "machine", answer: "machine", Page: lazy(() => import("./machine")) };

export default stage;
