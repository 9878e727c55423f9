import { speak } from "./language";

// texts are put together when the modules that hold them are first read, so the language comes before all of them
void speak().then(() => import("./start"));
