declare module "*.po" {
  export const messages: Record<string, string>;
}
