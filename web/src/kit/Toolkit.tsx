/** Ant Design in our ink: for the places where an instructor works, and only loaded by them. */
import { App, ConfigProvider } from "antd";
import { type ReactNode, useState } from "react";
import { pageNonce } from "../nonce";

const INK = {
  fontFamily: '"Barlow", "Helvetica Neue", Arial, sans-serif',
  fontSize: 16,
  fontSizeLG: 16,
  colorPrimary: "#1d4f91",
  colorInfo: "#1d4f91",
  colorLink: "#1d4f91",
  colorError: "#a23f1d",
  colorWarning: "#8a6412",
  colorSuccess: "#1f6a60",
  colorInfoBg: "#e6ebf2",
  colorInfoBorder: "#8fa6c6",
  colorWarningBg: "#f5ecd4",
  colorWarningBorder: "#c3a461",
  colorErrorBg: "#f0d6ca",
  colorErrorBorder: "#c98a70",
  colorSuccessBg: "#dfece6",
  colorSuccessBorder: "#86b3a6",
  colorText: "#20272b",
  colorTextHeading: "#20272b",
  colorTextSecondary: "#565b58",
  colorTextDescription: "#565b58",
  colorTextPlaceholder: "#6a6e6a",
  colorTextDisabled: "#6a6e6a",
  colorBgContainer: "#fbf9f3",
  colorBgElevated: "#fbf9f3",
  colorBgLayout: "#f4f0e6",
  colorBorder: "#8d8672",
  colorBorderSecondary: "#d9d0b9",
  colorFillAlter: "#efe9da",
  borderRadius: 3,
  borderRadiusLG: 3,
  borderRadiusSM: 2,
  controlHeightLG: 44,
  boxShadow: "0 2px 0 #20272b22",
  boxShadowSecondary: "0 3px 0 #20272b33",
};

/** Marking-out ink on drawing paper: ruled lines, square corners, headings as on a drawing. */
const PARTS = {
  Table: {
    headerBg: "#efe9da",
    headerColor: "#20272b",
    headerSplitColor: "transparent",
    headerBorderRadius: 0,
    borderColor: "#d9d0b9",
    rowHoverBg: "#f4f0e6",
    cellPaddingBlockMD: 10,
    cellPaddingInlineMD: 14,
  },
  Tabs: { titleFontSizeLG: 17, inkBarColor: "#20272b", itemSelectedColor: "#20272b" },
  Segmented: { trackBg: "#efe9da", itemSelectedBg: "#20272b", itemSelectedColor: "#fbf9f3" },
  Button: { fontWeight: 600 },
  Alert: { defaultPadding: "10px 14px", withDescriptionPadding: "12px 16px" },
  Modal: { titleFontSize: 20 },
  Form: { verticalLabelPadding: "0 0 2px" },
  Drawer: { footerPaddingBlock: 12 },
};

export function Toolkit({ children }: { children: ReactNode }) {
  // Once: antd mounts the whole page anew when this changes, and what is typed there is gone.
  const [motion] = useState(() => !window.matchMedia("(prefers-reduced-motion: reduce)").matches);
  return (
    <ConfigProvider
      csp={{ nonce: pageNonce() }}
      componentSize="large"
      theme={{
        token: {
          ...INK,
          motion,
        },
        components: PARTS,
      }}
    >
      <App component={false} message={{ maxCount: 2 }}>
        {children}
      </App>
    </ConfigProvider>
  );
}
