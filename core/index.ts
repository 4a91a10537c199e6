/** The public face of the core: what the server, the web and the command line may use. */
export { asLine, asText, capitalized, isLine, longestPasted, slug } from './text.ts';
export { bad, ok, valueOf, type Problem, type Result } from './result.ts';
export { dayAfter, dayOf, daysBetween, isDay } from './days.ts';
export { formatAddress, parseAddress } from './net/address.ts';
export { formatPrefix, hostsOf } from './net/prefix.ts';
export { formatPorts } from './net/ports.ts';
export { planVersion } from './plan/version.ts';
export { withCleanLines } from './plan/clean.ts';
export { emptyPlan } from './plan/defaults.ts';
export { comparePlans, mergePlans, type Conflict, type Difference, type Merge } from './plan/compare.ts';
export { figuresText, valueText } from './plan/figures.ts';
export { watchText } from './failover/words.ts';
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
export { counted } from './text.ts';
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
export { houseCard, labelStrip } from './record/house-card.ts';
export { siteRecord, type RecordSection, type SiteRecordDocument } from './record/record.ts';
export { compile } from './site/compile.ts';
export { severityOrder, type Finding, type Severity } from './terms/finding.ts';
export type { Line, Network, Site } from './site/model.ts';
export { newNetwork } from './site/new-network.ts';
export { stationsOf, type Station } from './site/stations.ts';
export { harmOf, type Harm } from './checks/mends.ts';
export { checks, runChecks } from './checks/index.ts';
export { ask, type Answer, type HopText } from './path/ask.ts';
export { follow } from './path/follow.ts';
export { forwardCalls } from './router/forward-calls.ts';
export { rateOf } from './net/rate.ts';
export { createRouter } from './router/router.ts';
export { endpointNames, flowOf, parseQuery, type Query } from './path/query.ts';
export type { Flow, Outcome } from './path/packet.ts';
export { uplinkType, uplinkTypes } from './uplinks/index.ts';
export type { UplinkType } from './uplinks/type.ts';
export {
  callSheet,
  likelyTypes,
  missingFields,
  missingOf,
  type Likely,
  type Question,
} from './uplinks/advice.ts';
export { parseCellular, bandText } from './readings/cellular.ts';
export { judgeValues, standingOf, type FieldVerdict } from './readings/judge.ts';
export { emptyFields, valuesFromText, valuesText } from './readings/fields.ts';
export { outsideRefusal, sourceRefusal } from './readings/outside.ts';
export type { ReadingField, Values } from './terms/reading.ts';
export { partsOfStep } from './acceptance/parts.ts';
export { takeOvers, type TakeOver } from './readings/take-over.ts';
export type { Verdict } from './terms/verdict.ts';
export { figureText, parseTools, readingOf } from './readings/tools.ts';
export {
  experimentOrder,
  judgeSurvey,
  surveyGroups,
  type Survey,
  type SurveyGroup,
} from './readings/survey.ts';
export { fibreBudget } from './media/fibre.ts';
export { judgeOptical } from './media/optical.ts';
export { antennaCables, pairProblem } from './media/antenna.ts';
export { bringUp, faultsOf } from './faults/bench.ts';
export type { Exchange, Fault } from './faults/stand-in.ts';
export { fileName } from './encode/index.ts';
export { writePcapng } from './formats/pcapng.ts';
export { asTemplate } from './uplinks/template.ts';
export { media, medium } from './media/index.ts';
export { runSheet } from './runsheet/sheet.ts';
export { learntFrom, durationsOf, type Learnt, type StepMoment } from './runsheet/learnt.ts';
export { summaryOf, timeOfDay, timeOfDayText, type VisitSummary } from './runsheet/summary.ts';
export { pasteWords, readPaste, type Paste } from './found/paste.ts';
export { findSite, type Found, type FoundBox } from './found/found.ts';
export { besidePlan, replacementPatch, type Beside } from './found/beside.ts';
export { desktops, farHost, writeScript, type Desktop } from './visit/script.ts';
export { fillSteps, type Filled } from './visit/fill.ts';
export { answerScript } from './visit/stand-in.ts';
export { originOf, readTranscript } from './visit/transcript.ts';
export { stepsOfVisit } from './acceptance/open-steps.ts';
export { shortestProof } from './acceptance/shortest.ts';
export type { Entry, RunStep } from './terms/step.ts';
export {
  recordInputSchema,
  stepStates,
  valuesOf,
  type RecordInput,
  type SiteRecord,
  type StepState,
} from './runsheet/record.ts';
export { acceptance, fallenOf, type Accepted, type Weighed } from './acceptance/judge.ts';
export { unfinished } from './acceptance/unfinished.ts';
export { rungs, rungOf, strengthOf, type RungId } from './terms/rungs.ts';
export { runSum, sums } from './sums/index.ts';
export { step, type Step, type Worked } from './worked/worked.ts';
export { macText, workingsAt } from './workings/index.ts';
export { exposure } from './exposure/exposure.ts';
export { expectedSentence } from './exposure/expectation.ts';
export { compareReach, type ReachChange } from './exposure/compare.ts';
export {
  exposureColumns,
  type ExposureMatrix,
  type MatrixCell,
  type MatrixRow,
  type Opening,
} from './exposure/matrix.ts';
export { reachesOf } from './exposure/describe.ts';
export { ExposureMemory } from './exposure/memory.ts';
export { sendersOf } from './exposure/senders.ts';
export {
  folderFormats,
  peerFormats,
  siteFormats,
  type FolderFormatName,
  type PeerFormatName,
  type SiteFormatName,
  type Sources,
} from './formats/index.ts';
export { devicesFromRows, forwardsFromRows, runsFromRows, type Pasted } from './formats/rows.ts';
export { faultKinds, faultText, parseFault, type FaultKind, type ScriptedFault } from './failover/faults.ts';
export type { FailoverPromise } from './site/failover.ts';
export { simulate, type Lane, type Script, type SimulationRun } from './failover/simulate.ts';
export { drawYears, outageClasses, years, type YearsResult } from './failover/years.ts';
export { predict, linesForKind } from './failover/predict.ts';
export { adviceFor } from './failover/demand.ts';
export { traffic } from './failover/traffic.ts';
export type { Peer } from './site/vpn.ts';
export {
  freePool,
  profileText,
  secretPlace,
  tunnelWorked,
  uniqueLocalPool,
  type Secrets,
} from './vpn/interface.ts';
export { keyPair, publicKeyOf } from './vpn/key-pair.ts';
export { parseKey } from './vpn/keys.ts';
export { bestHub, joinedRows, joinSites, tunnelsWorked, type Joined, type JoinShape } from './vpn/join.ts';
export { translationTable } from './vpn/translation.ts';
export { endOf, endOfFar, tunnelStates, type TunnelState } from './vpn/tunnel-states.ts';
export { pageOf, pageText, type PersonPage } from './vpn/page.ts';
export { vpnOverview } from './vpn/overview.ts';
export {
  accessEvents,
  accessList,
  accessOf,
  type Access,
  type AccessEvent,
  type AccessState,
} from './vpn/access.ts';
export {
  beginRotation,
  newPeer,
  noteHandshakes,
  renewAccess,
  revokeAccess,
  revokePerson,
} from './vpn/changes.ts';
export { certificateOf } from './vpn/certificates.ts';
export { compareListing, parseListing } from './vpn/listing.ts';
export { parseProfile, writeProfile } from './vpn/profile.ts';
export { checkProfile } from './vpn/profile-check.ts';
export { peerVerdict, reachText } from './vpn/reach.ts';
export { routesOf } from './vpn/routes.ts';
export { methodOf } from './vpn/methods/index.ts';
export { speedVerdict, speedWorked } from './vpn/speed.ts';
export { clientCapture } from './vpn/client-frames.ts';
export { situations, simulateClient, type SituationName, type ClientRun } from './vpn/situations.ts';
export { rankWays, type RankedWay } from './vpn/which.ts';
export { endingsOf } from './formats/calendar.ts';
export { readBrief } from './brief/read.ts';
export type { Brief, FoundSecret, Mark } from './brief/facts.ts';
export { interview, type Interview } from './brief/interview.ts';
export { askProvider, type Answers, type BriefQuestion } from './brief/question.ts';
export { planOfBrief } from './brief/plan.ts';
export { vaultSecretsOf } from './brief/plan-lines.ts';
export { patterns } from './brief/patterns.ts';
export { forAnotherCustomer } from './brief/another.ts';
export { confirmPatch, openOrigins, type Origin } from './brief/origins.ts';
export { deskOf, wordsOf, type Desk } from './desk/desk.ts';
export { pictureOf, shownAs, type Picture, type PictureNode } from './picture/picture.ts';
export { sharedMhz, spectrumOf, wifiBands, type Spectrum, type WifiBand } from './worked/wifi.ts';
export { planChannels, type ChannelPlan, type Heard } from './wifi/channels.ts';
export { heardOn, leadersOf, recommendedChannels } from './wifi/now.ts';
export { widthsFor, type WidthAdvice } from './wifi/width.ts';
export { allowedBy, channelRules, rangesText } from './wifi/countries.ts';
export { expectedSignal, roomName, roomSignal } from './wifi/coverage.ts';
export {
  chainOf,
  compareWays,
  secondWays,
  wayName,
  type SecondWay,
  type WayOption,
} from './second/compare.ts';
export { passphraseProblem, wifiCode, wifiPassphrase } from './wifi/key.ts';
export { insideFaults, rehearseInside, type InsideFault } from './failover/inside-faults.ts';
export { batteryTime } from './router/battery.ts';
export { bindingLimit, limitsOf } from './router/limits.ts';
export { isChained, type Second } from './site/second.ts';
export { stepsOfSecond } from './runsheet/second.ts';
export { parseScan } from './wifi/scan.ts';
export { wiringPicture } from './picture/wiring-picture.ts';
export { socketName, type Box, type Run, type Socket } from './site/wiring.ts';
export { hopText, wiringData, wiringReport, type RunReport, type WiringReport } from './wiring/report.ts';
export { followFrame, type FrameTrip } from './wiring/learning.ts';
export { vlansInUse } from './wiring/loops.ts';
export { slowestOf, type PathTo } from './wiring/paths.ts';
export { rateText } from './worked/cabling.ts';
export { addressMap, type AddressPart, type AddressRow } from './picture/address-map.ts';
export { layoutOf, type Layout } from './picture/layout.ts';
export { wayOfQuestion, type WayStep } from './picture/way.ts';
export { momentOf, nodeOf, type NodeState } from './picture/overlays.ts';
export { planJson } from './formats/plan-json.ts';
