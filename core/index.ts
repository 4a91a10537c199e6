/** The public face of the core: what the server, the web and the command line may use. */
export { asLine, asText, capitalized, isLine, longestPasted, slug } from './base/text.ts';
export { bad, ok, valueOf, type Problem, type Result } from './base/result.ts';
export { dayAfter, dayOf, daysBetween, isDay } from './base/days.ts';
export { formatAddress, parseAddress } from './base/net/address.ts';
export { formatPrefix, hostsOf } from './base/net/prefix.ts';
export { formatPorts } from './base/net/ports.ts';
export { planVersion } from './plan/version.ts';
export { withCleanLines } from './plan/clean.ts';
export { keeping } from './plan/keeping.ts';
export { emptyPlan } from './plan/defaults.ts';
export { comparePlans, mergePlans, type Conflict, type Difference, type Merge } from './plan/compare.ts';
export { figuresText, valueText } from './plan/figures.ts';
export { watchText } from './behaviour/failover/words.ts';
export { applyPatch, type Patch } from './plan/patch.ts';
export { pointer, valueAt } from './plan/pointer.ts';
export { largestPlanBytes, parsePlan, readPlan } from './plan/read.ts';
export * from './plan/schema.ts';
export {
  catalogue,
  fieldAt,
  fieldsBelow,
  namesAt,
  pointersOf,
  searchFields,
  sheetAt,
  termAt,
  titleAt,
  usualAt,
  type PlacedField,
} from './plan/places.ts';
export { counted } from './base/text.ts';
export { asAt, type At } from './plan/at.ts';
export { describe as describeField, type FieldSheet } from './plan/field.ts';
export type {
  ChoiceField,
  Field,
  NumberField,
  ReferenceField,
  SwitchField,
  TextField,
} from './plan/field.ts';
export { labelAt } from './plan/labels.ts';
export { houseCard, labelStrip } from './output/record/house-card.ts';
export { siteRecord, type RecordSection, type SiteRecordDocument } from './output/record/record.ts';
export { compile } from './site/compile.ts';
export { severityOrder, type Finding, type Severity } from './behaviour/domain-types/finding.ts';
export type { Line, Network, Site } from './site/model.ts';
export { newNetwork } from './site/new-network.ts';
export { stationsOf, type Station } from './site/stations.ts';
export { checkPlan, mends } from './answers/checks/offered.ts';
export { checks, runChecks } from './answers/checks/index.ts';
export { ask, type Answer, type HopText } from './answers/path/ask.ts';
export { follow } from './answers/path/follow.ts';
export { forwardCalls } from './behaviour/router/forward-calls.ts';
export { rateOf } from './base/net/rate.ts';
export { createRouter } from './behaviour/router/router.ts';
export { endpointNames, flowOf, parseQuery, type Query } from './answers/path/query.ts';
export type { Flow, Outcome } from './answers/path/packet.ts';
export { wanType, wanTypes } from './wan-types/index.ts';
export type { WanType } from './wan-types/type.ts';
export {
  callSheet,
  likelyTypes,
  missingFields,
  missingOf,
  type Likely,
  type Question,
} from './wan-types/advice.ts';
export { parseCellular, bandText } from './intake/readings/cellular.ts';
export { judgeValues, standingOf, type FieldVerdict } from './intake/readings/judge.ts';
export { emptyFields, valuesFromText, valuesText } from './intake/readings/fields.ts';
export { outsideRefusal, sourceRefusal } from './intake/readings/outside.ts';
export type { ReadingField, Values } from './behaviour/domain-types/reading.ts';
export { partsOfStep } from './answers/acceptance/parts.ts';
export { takeOvers, type TakeOver } from './editing/take-over/take-over.ts';
export type { Verdict } from './behaviour/domain-types/verdict.ts';
export { figureText, parseTools, readingOf } from './intake/readings/tools.ts';
export {
  experimentOrder,
  judgeSurvey,
  surveyGroups,
  type Survey,
  type SurveyGroup,
} from './intake/readings/survey.ts';
export { fibreBudget } from './behaviour/media/fibre.ts';
export { judgeOptical } from './behaviour/media/optical.ts';
export { antennaCables, pairProblem } from './behaviour/media/antenna.ts';
export { bringUp, faultsOf } from './behaviour/provider-sim/bench.ts';
export type { Exchange, Fault } from './behaviour/provider-sim/stand-in.ts';
export { fileName } from './base/encode/index.ts';
export { writePcapng } from './output/formats/pcapng.ts';
export { asTemplate } from './editing/line-template/template.ts';
export { media, medium } from './behaviour/media/index.ts';
export { runSheet } from './answers/run-sheet/sheet.ts';
export { learntFrom, durationsOf, type Learnt, type StepMoment } from './answers/run-sheet/learnt.ts';
export { summaryOf, timeOfDay, timeOfDayText, type VisitSummary } from './answers/run-sheet/summary.ts';
export { pasteWords, readPaste, type Paste } from './intake/discovery/paste.ts';
export { findSite, type Found, type FoundBox } from './intake/discovery/discovery.ts';
export { besidePlan, replacementPatch, type Beside } from './editing/take-over/compare-with-plan.ts';
export { desktops, farHost, writeScript, type Desktop } from './answers/visit-scripts/script.ts';
export { fillSteps, type Filled } from './answers/visit-scripts/fill.ts';
export { answerScript } from './answers/visit-scripts/stand-in.ts';
export { originOf, readTranscript } from './answers/visit-scripts/transcript.ts';
export { stepsOfVisit } from './answers/acceptance/open-steps.ts';
export { shortestProof } from './answers/acceptance/shortest.ts';
export type { Entry, RunStep } from './behaviour/domain-types/step.ts';
export {
  recordInputSchema,
  stepStates,
  valuesOf,
  type RecordInput,
  type SiteRecord,
  type StepState,
} from './answers/run-sheet/record.ts';
export { acceptance, fallenOf, type Accepted, type Weighed } from './answers/acceptance/judge.ts';
export { unfinished } from './answers/acceptance/unfinished.ts';
export { rungs, rungOf, strengthOf, type RungId } from './behaviour/domain-types/rungs.ts';
export { runSum, sums } from './answers/sums/index.ts';
export { step, type Step, type Worked } from './base/worked/worked.ts';
export { macText, workingsAt } from './answers/workings/index.ts';
export { exposure } from './answers/exposure/exposure.ts';
export { expectedSentence } from './answers/exposure/expectation.ts';
export { compareReach, type ReachChange } from './answers/exposure/compare.ts';
export {
  exposureColumns,
  type ExposureMatrix,
  type MatrixCell,
  type MatrixRow,
  type Opening,
} from './answers/exposure/matrix.ts';
export { reachesOf } from './answers/exposure/describe.ts';
export { ExposureMemory } from './answers/exposure/memory.ts';
export { sendersOf } from './answers/exposure/senders.ts';
export {
  folderFormats,
  peerFormats,
  siteFormats,
  type FolderFormatName,
  type PeerFormatName,
  type SiteFormatName,
  type Sources,
} from './output/formats/index.ts';
export { devicesFromRows, forwardsFromRows, runsFromRows, type Pasted } from './output/formats/rows.ts';
export {
  faultKinds,
  faultText,
  parseFault,
  type FaultKind,
  type ScriptedFault,
} from './behaviour/failover/faults.ts';
export type { FailoverPromise } from './site/failover.ts';
export { simulate, type Lane, type Script, type SimulationRun } from './behaviour/failover/simulate.ts';
export { drawYears, outageClasses, years, type YearsResult } from './behaviour/failover/years.ts';
export { predict, linesForKind } from './behaviour/failover/predict.ts';
export { adviceFor } from './behaviour/failover/demand.ts';
export { traffic } from './behaviour/failover/traffic.ts';
export type { Peer } from './site/vpn.ts';
export {
  freePool,
  profileText,
  secretPlace,
  tunnelWorked,
  uniqueLocalPool,
  type Secrets,
} from './behaviour/remote-access/interface.ts';
export { keyPair, publicKeyOf } from './behaviour/remote-access/key-pair.ts';
export { parseKey } from './behaviour/remote-access/keys.ts';
export {
  bestHub,
  joinedRows,
  joinSites,
  tunnelsWorked,
  type Joined,
  type JoinShape,
} from './behaviour/remote-access/join.ts';
export { translationTable } from './behaviour/remote-access/translation.ts';
export { endOf, endOfFar, tunnelStates, type TunnelState } from './behaviour/remote-access/tunnel-states.ts';
export { pageOf, pageText, type PersonPage } from './behaviour/remote-access/page.ts';
export { vpnOverview } from './behaviour/remote-access/overview.ts';
export {
  accessEvents,
  accessList,
  accessOf,
  type Access,
  type AccessEvent,
  type AccessState,
} from './behaviour/remote-access/access.ts';
export {
  beginRotation,
  newPeer,
  noteHandshakes,
  renewAccess,
  revokeAccess,
  revokePerson,
} from './behaviour/remote-access/changes.ts';
export { certificateOf } from './behaviour/remote-access/certificates.ts';
export { compareListing, parseListing } from './behaviour/remote-access/listing.ts';
export { parseProfile, writeProfile } from './behaviour/remote-access/profile.ts';
export { checkProfile } from './behaviour/remote-access/profile-check.ts';
export { peerVerdict, reachText } from './behaviour/remote-access/reach.ts';
export { routesOf } from './behaviour/remote-access/routes.ts';
export { methodOf } from './behaviour/remote-access/methods/index.ts';
export { speedVerdict, speedWorked } from './behaviour/remote-access/speed.ts';
export { clientCapture } from './behaviour/remote-access/client-frames.ts';
export {
  situations,
  simulateClient,
  type SituationName,
  type ClientRun,
} from './behaviour/remote-access/situations.ts';
export { rankWays, type RankedWay } from './behaviour/remote-access/which.ts';
export { endingsOf } from './output/formats/calendar.ts';
export { readBrief } from './intake/letter/read.ts';
export type { Brief, FoundSecret, Mark } from './intake/letter/facts.ts';
export { interview, type Interview } from './editing/brief/interview.ts';
export { askProvider, type Answers, type BriefQuestion } from './editing/brief/question.ts';
export { planOfBrief } from './editing/brief/plan.ts';
export { vaultSecretsOf } from './editing/brief/plan-lines.ts';
export { patterns } from './intake/letter/patterns.ts';
export { forAnotherCustomer } from './editing/brief/another.ts';
export { confirmPatch, openOrigins, type Origin } from './editing/brief/origins.ts';
export { deskOf, wordsOf, type Desk } from './output/site-summary/site-summary.ts';
export { pictureOf, shownAs, type Picture, type PictureNode } from './output/picture/picture.ts';
export { sharedMhz, spectrumOf, wifiBands, type Spectrum, type WifiBand } from './base/worked/wifi.ts';
export { planChannels, type ChannelPlan, type Heard } from './behaviour/wifi/channels.ts';
export { heardOn, leadersOf, recommendedChannels } from './behaviour/wifi/now.ts';
export { widthsFor, type WidthAdvice } from './behaviour/wifi/width.ts';
export { allowedBy, channelRules, rangesText } from './behaviour/wifi/countries.ts';
export { expectedSignal, roomName, roomSignal } from './behaviour/wifi/coverage.ts';
export {
  chainOf,
  compareWays,
  secondWays,
  type SecondWay,
  type WayOption,
} from './behaviour/downstream-router/compare.ts';
export { passphraseProblem, wifiCode, wifiPassphrase } from './behaviour/wifi/key.ts';
export { insideFaults, rehearseInside, type InsideFault } from './behaviour/failover/inside-faults.ts';
export { batteryTime } from './behaviour/router/battery.ts';
export { bindingLimit, limitsOf } from './behaviour/router/limits.ts';
export { isChained, type Second } from './site/second.ts';
export { stepsOfSecond } from './answers/run-sheet/second.ts';
export { parseScan } from './behaviour/wifi/scan.ts';
export { wiringPicture } from './output/picture/wiring-picture.ts';
export { socketName, type Box, type Run, type Socket } from './site/wiring.ts';
export {
  hopText,
  wiringData,
  wiringReport,
  type RunReport,
  type WiringReport,
} from './behaviour/wiring/report.ts';
export { followFrame, type FrameTrip } from './behaviour/wiring/learning.ts';
export { vlansInUse } from './behaviour/wiring/loops.ts';
export { slowestOf, type PathTo } from './behaviour/wiring/paths.ts';
export { rateText } from './base/worked/cabling.ts';
export { addressMap, type AddressPart, type AddressRow } from './output/picture/address-map.ts';
export { layoutOf, type Layout } from './output/picture/layout.ts';
export { wayOfQuestion, type WayStep } from './output/picture/way.ts';
export { momentOf, nodeOf, type NodeState } from './output/picture/overlays.ts';
export { planJson } from './output/formats/plan-json.ts';
