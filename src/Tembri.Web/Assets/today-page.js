// The teacher's day: rows are completed as they come into sight.
import { sayFailures } from "./page.js";

sayFailures();
