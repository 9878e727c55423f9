import { i18n } from "@lingui/core";

// what unit tests are read in
i18n.loadAndActivate({ locale: "en", locales: "en-GB", messages: {} });
