package plenzo.store;

import java.util.List;
import java.util.Locale;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;
import plenzo.core.run.JournalEntry.Outcome;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * How records that an earlier Plenzo wrote become records of this one. The n-th step of a list
 * leads from format n to format n + 1; a step is never changed once it was released.
 */
final class Upgrades {
  /**
   * Runs: what a run was planned on, its times and its answers (format 2); what was answered
   * afterwards (format 3).
   */
  static final List<UnaryOperator<ObjectNode>> RUN =
      List.of(Upgrades::nestedRun, Upgrades::runWithBothAnswers);

  /**
   * Promotions: what goes where, the last look, what was decided (format 2); what else than a
   * version may come (format 3); whom the switch keeps waiting, which of earlier plans is not known
   * (format 4).
   */
  static final List<UnaryOperator<ObjectNode>> PROMOTION =
      List.of(
          Upgrades::nestedPromotion,
          Upgrades::promotionWithPurpose,
          Upgrades::promotionThatKnowsLocks);

  /**
   * Sites: whether the records are older than the site, what was there before (format 2); what
   * differs as a list, and what was left so (format 3).
   */
  static final List<UnaryOperator<ObjectNode>> SITE =
      List.of(Upgrades::siteThatKnowsItsAge, Upgrades::siteThatListsWhatDiffers);

  /**
   * Stages: whether drift closes them (format 2); what is asked of promotions is the legs' now
   * (format 3).
   */
  static final List<UnaryOperator<ObjectNode>> STAGE =
      List.of(
          stage -> stage.put("driftCloses", false),
          stage -> stage.remove(List.of("approvals", "needsVerdict", "needsProof")));

  /** Paths: legs that ask for something (format 2); schema 7 did that with what stages asked. */
  static final List<UnaryOperator<ObjectNode>> PATH = List.of(Upgrades::pathWithLegs);

  /** Applications: several paths (format 2). */
  static final List<UnaryOperator<ObjectNode>> APPLICATION =
      List.of(
          application -> {
            JsonNode path = application.remove("path");
            application.putArray("paths").add(path);
            return application;
          });

  /** Drafts: columns that may have been renamed (format 2), that are worked out (format 3). */
  static final List<UnaryOperator<ObjectNode>> DRAFT =
      List.of(
          draft -> {
            draft.putArray("renames");
            return draft;
          },
          draft -> {
            draft.putArray("conversions");
            return draft;
          });

  /** Packages: what must be there before; of earlier ones it is not known (format 2). */
  static final List<UnaryOperator<ObjectNode>> PARCEL =
      List.of(
          parcel -> {
            parcel.putNull("parent");
            parcel.putArray("needs");
            return parcel;
          });

  /** Code of conditions that were stored in words alone. */
  static final String EARLY = "early";

  private Upgrades() {}

  private static ObjectNode object() {
    return JsonNodeFactory.instance.objectNode();
  }

  /** A part that takes some of a record's fields. */
  private static ObjectNode part(ObjectNode from, String... names) {
    ObjectNode out = object();
    for (String name : names) {
      JsonNode value = from.remove(name);
      out.set(name, value == null ? JsonNodeFactory.instance.nullNode() : value);
    }
    return out;
  }

  private static void rename(ObjectNode in, String old, String now) {
    JsonNode value = in.remove(old);
    in.set(now, value == null ? JsonNodeFactory.instance.nullNode() : value);
  }

  private static ObjectNode pathWithLegs(ObjectNode path) {
    ArrayNode legs = JsonNodeFactory.instance.arrayNode();
    path.get("legs").forEach(key -> legs.add(LegsFromStages.leg(key.asString(), null)));
    path.set("legs", legs);
    return path;
  }

  private static ObjectNode siteThatKnowsItsAge(ObjectNode site) {
    ((ObjectNode) site.get("look")).put("older", 0);
    site.putObject("bases");
    return site;
  }

  private static ObjectNode siteThatListsWhatDiffers(ObjectNode site) {
    ((ObjectNode) site.get("look")).putNull("list");
    site.putArray("left");
    return site;
  }

  private static ObjectNode promotionWithPurpose(ObjectNode p) {
    ((ObjectNode) p.get("goal")).putNull("putBack").put("values", false);
    ((ObjectNode) p.get("look")).putArray("gives");
    return p;
  }

  private static ObjectNode promotionThatKnowsLocks(ObjectNode p) {
    if (p.get("plan") instanceof ObjectNode plan) {
      ObjectNode locked = plan.putObject("locked");
      locked.putArray("tables");
      locked.put("millis", 0);
      locked.putArray("before");
      locked.putArray("after");
    }
    return p;
  }

  private static ObjectNode nestedRun(ObjectNode run) {
    ObjectNode goal =
        part(run, "promotion", "application", "version", "before", "site", "fingerprint");
    goal.putArray("targets");
    run.set("goal", goal);
    run.set("times", part(run, "queuedAt", "startedAt", "endedAt", "noReturnAt"));
    ObjectNode rows = part(run, "rowsDone", "rowsToDo");
    rename(rows, "rowsDone", "done");
    rename(rows, "rowsToDo", "toDo");
    run.set("rows", rows);
    run.remove("abortAsked");
    run.putObject("answers");
    return run;
  }

  private static ObjectNode runWithBothAnswers(ObjectNode run) {
    ObjectNode answers = object();
    answers.set("before", run.get("answers"));
    answers.putObject("after");
    run.set("answers", answers);
    return run;
  }

  private static ObjectNode nestedPromotion(ObjectNode p) {
    JsonNode decisions = p.remove("decisions");
    p.set("goal", part(p, "application", "version", "site", "way", "backupOf", "release"));
    ObjectNode prepared = part(p, "preparedBy", "preparedAt", "notes");
    rename(prepared, "preparedBy", "by");
    rename(prepared, "preparedAt", "at");
    p.set("prepared", prepared);
    ObjectNode look =
        part(p, "present", "base", "comparison", "comparedAt", "components", "sameFiles");
    rename(look, "comparedAt", "at");
    p.set("look", look);
    ObjectNode choices = part(p, "acceptances", "activate");
    choices.set("decisions", decisions);
    p.set("choices", choices);
    if (p.get("plan") instanceof ObjectNode plan) {
      ArrayNode gates = JsonNodeFactory.instance.arrayNode();
      plan.get("gates")
          .forEach(words -> gates.add(object().put("code", EARLY).set("words", words)));
      plan.set("gates", gates);
    }
    return p;
  }

  /** How a deed ended, from the words that were journaled before outcomes had codes. */
  static Outcome outcome(String text) {
    String words = text.toLowerCase(Locale.ROOT);
    if (words.startsWith("refused")) {
      return Outcome.REFUSED;
    }
    return switch (words) {
      case "prepared" -> Outcome.PREPARED;
      case "restored" -> Outcome.RESTORED;
      case "applied", "settled: applied" -> Outcome.APPLIED;
      case "settled: void" -> Outcome.VOID;
      case "switched back" -> Outcome.UNDONE;
      case "maintenance is on" -> Outcome.CLOSED;
      case "maintenance is off" -> Outcome.OPENED;
      default ->
          throw new IllegalStateException("The journal has an outcome without meaning: " + text);
    };
  }

  /** The id of a target, from "production/north database" as it was journaled before. */
  static @Nullable String target(String shown) {
    int space = shown.lastIndexOf(' ');
    return shown.isEmpty()
        ? null
        : space < 0 ? shown : shown.substring(0, space) + "/" + shown.substring(space + 1);
  }
}
