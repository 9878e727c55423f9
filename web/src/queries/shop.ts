/** What is asked of the shop: people, customers, meters, figures, settings. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, data, keepCsrf, Problem } from "../api/client";
import type { paths } from "../api/schema";
import { writeAs } from "../shared/writing";
import { keyOf } from "./keys";

export const backupsQuery = () =>
  queryOptions({
    queryKey: keyOf("backups"),
    queryFn: async () => data(await api.GET("/api/v1/backups")),
  });

export const cardPartsQuery = (serial: string, stamp: number) =>
  queryOptions({
    queryKey: keyOf("card-parts", serial, stamp),
    queryFn: async () =>
      data(await api.GET("/api/v1/cards/{serial}/parts", { params: { path: { serial } } })),
  });

export const cardQuery = (serial: string) =>
  queryOptions({
    queryKey: keyOf("card", serial),
    queryFn: async () => {
      try {
        return data(await api.GET("/api/v1/cards/{serial}", { params: { path: { serial: serial.trim() } } }));
      } catch (error) {
        if (error instanceof Problem && error.status === 404) return null;
        throw error;
      }
    },
    retry: false,
  });

export const cardsQuery = (from: string, to: string) =>
  queryOptions({
    queryKey: keyOf("cards", from, to),
    queryFn: async () => {
      const ask = (serial: string) => api.GET("/api/v1/cards/{serial}", { params: { path: { serial } } });
      const [giver, taker] = await Promise.all([ask(from), ask(to)]);
      return [data(giver), data(taker)] as const;
    },
  });

export const cautionsQuery = () =>
  queryOptions({
    queryKey: keyOf("cautions"),
    queryFn: async () => data(await api.GET("/api/v1/cautions")),
    // they change with the shift
    staleTime: 5 * 60_000,
  });

export const checksQuery = (meter: number) =>
  queryOptions({
    queryKey: keyOf("checks", meter),
    queryFn: async () =>
      data(await api.GET("/api/v1/meters/{meter}/checks", { params: { path: { meter } } })),
  });

export const clockQuery = () =>
  queryOptions({
    queryKey: keyOf("clock"),
    queryFn: async () => data(await api.GET("/api/v1/clock")).running,
  });

export const customerQuery = (token: string) =>
  queryOptions({
    queryKey: keyOf("customer", token),
    queryFn: async () => data(await api.GET("/api/v1/customer/{token}", { params: { path: { token } } })),
    retry: false,
  });

export const customersQuery = (search: string) =>
  queryOptions({
    queryKey: keyOf("customers", search),
    queryFn: async () => data(await api.GET("/api/v1/customers", { params: { query: { search } } })),
  });

export const filtersQuery = () =>
  queryOptions({
    queryKey: keyOf("filters"),
    queryFn: async () => data(await api.GET("/api/v1/filters")),
  });

export const habitsQuery = () =>
  queryOptions({
    queryKey: keyOf("habits"),
    queryFn: async () => data(await api.GET("/api/v1/habits")),
  });

export const invitationQuery = (token: string) =>
  queryOptions({
    queryKey: keyOf("invitation", token),
    queryFn: async () => data(await api.GET("/api/v1/invitations/{token}", { params: { path: { token } } })),
    retry: false,
  });

export const kindsQuery = () =>
  queryOptions({
    queryKey: keyOf("kinds"),
    queryFn: async () => data(await api.GET("/api/v1/kinds")),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const learningQuery = () =>
  queryOptions({
    queryKey: keyOf("learning"),
    queryFn: async () => data(await api.GET("/api/v1/learning")),
  });

export const mailboxQuery = () =>
  queryOptions({
    queryKey: keyOf("mailbox"),
    queryFn: async () => data(await api.GET("/api/v1/mailbox")),
  });

export const messageTemplatesQuery = () =>
  queryOptions({
    queryKey: keyOf("message-templates"),
    queryFn: async () => data(await api.GET("/api/v1/message-templates")),
  });

export const metersQuery = () =>
  queryOptions({
    queryKey: keyOf("meters"),
    queryFn: async () => data(await api.GET("/api/v1/meters")),
  });

export const moneyQuery = () =>
  queryOptions({
    queryKey: keyOf("money"),
    queryFn: async () => data(await api.GET("/api/v1/money")),
  });

export const morningStandardQuery = () =>
  queryOptions({
    queryKey: keyOf("morning-standard"),
    queryFn: async () => data(await api.GET("/api/v1/morning-standard")),
  });

export const parcelsQuery = () =>
  queryOptions({
    queryKey: keyOf("parcels"),
    queryFn: async () => data(await api.GET("/api/v1/parcels")),
  });

export const peopleQuery = () =>
  queryOptions({
    queryKey: keyOf("people"),
    queryFn: async () => data(await api.GET("/api/v1/people")),
  });

export const phoneQuery = (token: string) =>
  queryOptions({
    queryKey: keyOf("phone", token),
    queryFn: async () => data(await api.GET("/api/v1/phone/{token}", { params: { path: { token } } })),
    retry: false,
  });

export const phoneRouteQuery = (token: string) =>
  queryOptions({
    queryKey: keyOf("phone-route", token),
    queryFn: async () =>
      data(await api.GET("/api/v1/phone/{token}/readings", { params: { path: { token } } })),
    retry: false,
  });

export const referenceCardQuery = (id: string) =>
  queryOptions({
    queryKey: keyOf("reference-card", id),
    queryFn: async () =>
      data(await api.GET("/api/v1/reference-cards/{reference}", { params: { path: { reference: id } } })),
  });

export const remindersQuery = () =>
  queryOptions({
    queryKey: keyOf("reminders"),
    queryFn: async () => data(await api.GET("/api/v1/reminders")),
  });

export const returnSettingsQuery = () =>
  queryOptions({
    queryKey: keyOf("return-settings"),
    queryFn: async () => data(await api.GET("/api/v1/return-settings")),
  });

export const searchQuery = (sought: string) =>
  queryOptions({
    queryKey: keyOf("search", sought),
    queryFn: async () => data(await api.GET("/api/v1/jobs", { params: { query: { search: sought } } })),
  });

export const secondFactorQuery = () =>
  queryOptions({
    queryKey: keyOf("second-factor"),
    queryFn: async () => data(await api.GET("/api/v1/session/second-factor")),
  });

export const sessionQuery = () =>
  queryOptions({
    queryKey: keyOf("session"),
    queryFn: async () => {
      const session = data(await api.GET("/api/v1/session"));
      keepCsrf(session.csrf, session.person?.username ?? "");
      return session;
    },
    staleTime: Number.POSITIVE_INFINITY,
  });

export const sessionsQuery = () =>
  queryOptions({
    queryKey: keyOf("sessions"),
    queryFn: async () => data(await api.GET("/api/v1/sessions")),
  });

export const setupQuery = () =>
  queryOptions({
    queryKey: keyOf("setup"),
    queryFn: async () => data(await api.GET("/api/v1/setup")),
    staleTime: 0,
  });

export const suppliesQuery = () =>
  queryOptions({
    queryKey: keyOf("supplies"),
    queryFn: async () => data(await api.GET("/api/v1/supplies")),
  });

export const suppliesWatchedQuery = (job: number | null) =>
  queryOptions({
    queryKey: keyOf("supplies-watched", job),
    queryFn: async () => data(await api.POST("/api/v1/supplies/watched", { body: { job } })),
  });

export const tasksQuery = () =>
  queryOptions({
    queryKey: keyOf("tasks"),
    queryFn: async () => data(await api.GET("/api/v1/tasks")),
  });

export const timersQuery = () =>
  queryOptions({
    queryKey: keyOf("timers"),
    queryFn: async () => data(await api.GET("/api/v1/timers")),
  });

export const writingQuery = () =>
  queryOptions({
    queryKey: keyOf("writing"),
    queryFn: async () => {
      const writing = data(await api.GET("/api/v1/writing"));
      writeAs(writing);
      return writing;
    },
  });

type Wanted = NonNullable<paths["/api/v1/shelf"]["get"]["parameters"]["query"]>;

/** Jobs on the shelf; `address` is the filter as the page's address has it. */
export const shelfQuery = (address = "", wanted: Wanted = {}) =>
  queryOptions({
    queryKey: keyOf("shelf", address),
    placeholderData: keepPreviousData,
    queryFn: async () => data(await api.GET("/api/v1/shelf", { params: { query: wanted } })),
  });

type Counted = NonNullable<paths["/api/v1/figures"]["get"]["parameters"]["query"]>;

export const figuresCountedQuery = (asked: Counted) =>
  queryOptions({
    queryKey: keyOf("figures-counted", asked),
    placeholderData: keepPreviousData,
    queryFn: async () => {
      const query = Object.fromEntries(Object.entries(asked).filter(([, value]) => value)) as Counted;
      return data(await api.GET("/api/v1/figures", { params: { query } }));
    },
  });
