import { configure } from "@testing-library/react";

// a machine busy with other work may take a while for what unit tests wait for
configure({ asyncUtilTimeout: 20_000 });
