/** Ant Design in our ink: for the places with tables and forms, and only loaded by them. */
import { ConfigProvider } from "antd";
import type { ReactNode } from "react";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";

export function Toolkit({ children }: { children: ReactNode }) {
  return (
    <ConfigProvider
      csp={{ nonce }}
      componentSize="large"
      theme={{
        token: {
          fontFamily: '"Barlow", "Helvetica Neue", Arial, sans-serif',
          fontSize: 16,
          colorPrimary: "#1d4f91",
          colorInfo: "#1d4f91",
          colorError: "#a23f1d",
          colorWarning: "#8a6412",
          colorSuccess: "#1f6a60",
          colorText: "#20272b",
          colorTextSecondary: "#565b58",
          colorTextDescription: "#565b58",
          colorTextPlaceholder: "#6a6e6a",
          colorBgContainer: "#fbf9f3",
          colorBgElevated: "#fbf9f3",
          colorBgLayout: "#f4f0e6",
          colorBorder: "#8d8672",
          colorBorderSecondary: "#d9d0b9",
          borderRadius: 3,
          controlHeightLG: 44,
          motion: !window.matchMedia("(prefers-reduced-motion: reduce)").matches,
        },
        components: {
          Tabs: { titleFontSizeLG: 17 },
        },
      }}
    >
      {children}
    </ConfigProvider>
  );
}
