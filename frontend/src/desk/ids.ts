/** A fresh identity, as the server makes them. */
export const newId = () => crypto.randomUUID().replaceAll("-", "").slice(0, 12);
