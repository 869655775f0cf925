class StubResizeObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
globalThis.ResizeObserver = StubResizeObserver;
Object.defineProperty(window, 'visualViewport', { value: new EventTarget(), configurable: true });
