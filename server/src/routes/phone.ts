import express, { Router } from 'express';
import QR from 'qrcode';
import { BexlenError } from '@bexlen/core';
import { deviceName, pairingCode, phoneChange, phoneState, whoAsks, type PairingCode, type PhoneState } from '@bexlen/api';
import type { Codes } from '../door/codes';
import { choose } from '../door/choice';
import type { Doors, NetworkWish } from '../door/doors';
import { atHome, deviceOf } from '../door/entry';
import type { Folder } from '../folder';
import { asFault, wrongMethod } from '../http/faults';
import { knownId } from '../http/params';
import type { Devices } from '../store/devices';

export function phoneRoutes({ doors, codes, devices, folder, network, origin }: Parts): Router {
  const router = Router();
  const state = async (): Promise<unknown> => phoneState.parse({ ...stateOf(doors, origin), devices: await devices.all() });
  router.param('id', knownId);
  router
    .route('/phone')
    .get(atHome, async (_req, res) => {
      res.set('Cache-Control', 'no-store').json(await state());
    })
    .put(atHome, express.json(), async (req, res) => {
      const { open } = phoneChange.parse(req.body);
      await choose(folder, open);
      if (open) await doors.network(folder.phone, network);
      else await doors.leaveNetwork();
      res.set('Cache-Control', 'no-store').json(await state());
    })
    .all(wrongMethod('GET', 'PUT'));
  router
    .route('/phone/codes')
    .post(
      atHome,
      async (_req, res) =>
        void res
          .status(201)
          .set('Cache-Control', 'no-store')
          .json(await newCode(doors, codes, origin)),
    )
    .all(wrongMethod('POST'));
  router
    .route('/phone/me')
    .get((req, res) => void res.set('Cache-Control', 'no-store').json(whoAsks.parse({ device: deviceOf(req) ?? null })))
    .all(wrongMethod('GET'));
  router
    .route('/phone/devices/:id')
    .patch(atHome, express.json(), async (req, res) => {
      await devices.rename(req.params.id, deviceName.parse(req.body).name);
      res.status(204).end();
    })
    .delete(async (req, res) => {
      // A device may leave by itself, not send others away.
      const asks = deviceOf(req);
      if (asks && asks.id !== req.params.id) throw new BexlenError('not-found', 'This is another device.', 'Send it away on the machine itself.');
      if (!asks) {
        await devices.remove(req.params.id);
        return void res.status(204).end();
      }
      // It hears the answer before it is cut off; where it leaves twice at once, it is gone the second time.
      res.once('finish', () => {
        devices.remove(asks.id).catch((error: unknown) => {
          if (asFault(error).code !== 'not-found') req.log.error({ err: error }, 'a device could not be sent away');
        });
      });
      res.status(204).end();
    })
    .all(wrongMethod('PATCH', 'DELETE'));
  return router;
}

interface Parts {
  readonly doors: Doors;
  readonly codes: Codes;
  readonly devices: Devices;
  readonly folder: Folder;
  /** Under which addresses the network is let in where that is wished. */
  readonly network: NetworkWish;
  /** The name of a proxy in front. */
  readonly origin: string | undefined;
}

/** Where phones find this machine: by its addresses, and by the name of a proxy in front. */
export function stateOf(doors: Doors, origin: string | undefined): Omit<PhoneState, 'devices'> {
  const { addresses, ...state } = doors.state;
  return { ...state, open: doors.isOpen, addresses: [...(origin === undefined ? [] : [origin]), ...addresses] };
}

/** A new code, with the link that says it behind a hash, where no server and no log sees it. Throws where no door is open. */
export async function newCode(doors: Doors, codes: Codes, origin: string | undefined): Promise<PairingCode> {
  const [address] = stateOf(doors, origin).addresses;
  if (address === undefined)
    throw new BexlenError('conflict', 'Bexlen is not open to the network.', 'Turn it on under Phone on the computer running Bexlen.');
  const { code, goodFor } = await codes.make();
  const link = `${address}/pair#${code}`;
  const { modules } = QR.create(link, { errorCorrectionLevel: 'M' });
  const row = (y: number): string => Array.from({ length: modules.size }, (_, x) => (modules.get(y, x) ? '1' : '0')).join('');
  return pairingCode.parse({ code, link, goodFor, squares: Array.from({ length: modules.size }, (_, y) => row(y)) });
}
