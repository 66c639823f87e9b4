import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "probes", answer: "probing", plays: true, Page: lazy(() => import("./probes")) };

export default stage;
