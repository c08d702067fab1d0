import { createContext, useContext } from 'react';

/** Where the portal stands in the address: its own, or as somebody of the staff looks at it. */
export const PortalBase = createContext('/portal');
export const usePortalBase = () => useContext(PortalBase);

/** True where somebody of the staff looks: nothing can be changed. */
export const useLooking = (): boolean => usePortalBase() !== '/portal';
