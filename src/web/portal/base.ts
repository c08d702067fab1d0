import { createContext, useContext } from 'react';

/** Where the portal stands: for affiliates at /portal, for staff who look as one of them at /as/…. */
export const PortalBase = createContext('/portal');
export const usePortalBase = () => useContext(PortalBase);
