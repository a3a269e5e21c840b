import { vi } from "vitest";

// Files of tests share a page, which takes seconds to make: each begins with modules and a page as if it were alone.
vi.resetModules();
localStorage.clear();
document.body.replaceChildren();
