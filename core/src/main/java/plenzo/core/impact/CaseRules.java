package plenzo.core.impact;

import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.drift.PutBack;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.SiteRecord;
import plenzo.core.target.TargetIdentity;
import plenzo.core.version.Need;
import plenzo.core.version.SemVer;
import plenzo.core.version.Version;
import plenzo.core.words.Words;

/** Rules about the case rather than its content: identity, lineage, verdicts, other promotions. */
final class CaseRules {
  static final List<Rule<CaseFacts>> ALL =
      List.of(
          Rule.of("wrong-identity", Severity.BLOCKER, CaseRules::identity),
          Rule.of("records-older", Severity.BLOCKER, CaseRules::older),
          Rule.of("backup-not-proven", Severity.BLOCKER, CaseRules::proof),
          Rule.of("nothing-to-do", Severity.RISK, CaseRules::nothing),
          Rule.of("hand-edits-go", Severity.RISK, CaseRules::handEdits),
          Rule.of("no-base", Severity.BLOCKER, forward(CaseRules::base)),
          Rule.of("fix-left-out", Severity.BLOCKER, forward(CaseRules::leftOut)),
          Rule.of("newer-there", Severity.RISK, forward(CaseRules::newer)),
          Rule.of("prerequisite-missing", Severity.BLOCKER, forward(CaseRules::needs)),
          Rule.of("server-release", Severity.BLOCKER, forward(CaseRules::servers)),
          Rule.of("extension-version", Severity.BLOCKER, CaseRules::extensions),
          Rule.of("breaks-another", Severity.BLOCKER, forward(CaseRules::neededBy)),
          Rule.of("judged-bad", Severity.BLOCKER, forward(CaseRules::judgedBad)),
          Rule.of("other-open", Severity.RISK, forward(CaseRules::others)));

  private CaseRules() {}

  /** Only of what brings a version: going back and putting back lead to what was there. */
  private static java.util.function.BiConsumer<CaseFacts, Consumer<Finding>> forward(
      java.util.function.BiConsumer<CaseFacts, Consumer<Finding>> rule) {
    return (c, out) -> {
      if (c.promotion().brings()) {
        rule.accept(c, out);
      }
    };
  }

  private static String site(CaseFacts c) {
    return c.promotion().site().toString();
  }

  private static SemVer number(CaseFacts c) {
    return c.promotion().version();
  }

  private static void identity(CaseFacts c, Consumer<Finding> out) {
    for (CaseFacts.Place p : c.places()) {
      TargetIdentity found = p.found().orElse(null);
      if (found != null && p.expected().isMarkedAs(found)) {
        continue;
      }
      String is =
          found == null
              ? "has no marker"
              : "says it is "
                  + found.shown()
                  + " since "
                  + found.since().toString().substring(0, 10);
      out.accept(
          Finding.said(
              "wrong-identity",
              Severity.BLOCKER,
              p.holder() == Holder.DATABASE ? site(c) : p.shown(),
              "This " + p.holder().word() + " " + is + ". Wrong address, or a copy?",
              found != null
                  ? "Correct the connection"
                  : "If it was added to the site lately, plenzo app match "
                      + c.promotion().application()
                      + " --site "
                      + site(c)
                      + " --number with the version that is recorded there marks it; else correct"
                      + " the connection"));
    }
  }

  private static void older(CaseFacts c, Consumer<Finding> out) {
    for (CaseFacts.Place p : c.places()) {
      if (p.newer() > 0) {
        out.accept(
            Finding.said(
                "records-older",
                Severity.BLOCKER,
                p.shown(),
                p.shown()
                    + " was changed by R-"
                    + p.newer()
                    + ", which Plenzo's records do not know: they are older than the target, or"
                    + " an earlier copy of them was brought back.",
                "Bring back the newest records; else plenzo server catch-up: what those runs brought"
                    + " is drift then"));
      }
    }
  }

  private static void proof(CaseFacts c, Consumer<Finding> out) {
    for (CaseFacts.Place p : c.places()) {
      if (p.holder() == Holder.DATABASE && !p.proves() && !c.delta().tables().isEmpty()) {
        out.accept(
            Finding.said(
                "backup-not-proven",
                p.mustProve() ? Severity.BLOCKER : Severity.RISK,
                site(c),
                "There is no scratch place, so the backup is read back but not restored.",
                "Name a scratch connection for " + site(c)));
      }
    }
  }

  private static void nothing(CaseFacts c, Consumer<Finding> out) {
    if (!c.delta().isEmpty()) {
      return;
    }
    String without = withoutVersion(c);
    if (!without.isEmpty()) {
      out.accept(
          Finding.said(
              "nothing-to-do",
              Severity.BLOCKER,
              site(c),
              without,
              "Withdraw " + c.promotion().shown()));
      return;
    }
    if (c.drift() == 0) {
      out.accept(
          Finding.said(
              "nothing-to-do",
              Severity.NOTE,
              site(c),
              "Everything of "
                  + number(c)
                  + " that Plenzo carries is at "
                  + site(c)
                  + " already. "
                  + (c.promotion().rollback() ? "Going back" : "Promoting")
                  + " would change nothing but the record.",
              ""));
      return;
    }
    boolean recorded = c.present().equals(number(c));
    out.accept(
        Finding.of(
            "nothing-to-do",
            recorded ? Severity.BLOCKER : Severity.NOTE,
            site(c),
            Words.partsOrRows(c.drift())
                + " at "
                + site(c)
                + (c.drift() == 1 ? " differs" : " differ")
                + " from "
                + number(c)
                + (recorded ? ", which is recorded there already" : "")
                + (c.drift() == 1 ? ", and stays as it is" : ", and stay as they are")
                + ": this plan would change nothing.",
            c.drift(),
            recorded
                ? "Take what differs into a version, or correct it at the site"
                : "Decide what should be there, and draft it",
            null));
  }

  /** Why a plan that brings no version has nothing to do; empty of every other. */
  private static String withoutVersion(CaseFacts c) {
    if (c.promotion().valuesOnly()) {
      return site(c) + " was given every value already, as far as Plenzo gave it: nothing waits.";
    }
    return c.promotion().putBack() == null
        ? ""
        : "Nothing of what was named differs at " + site(c) + " now: there is nothing to put back.";
  }

  /** What people changed is what a put-back is about: it says what becomes of their work. */
  private static void handEdits(CaseFacts c, Consumer<Finding> out) {
    PutBack what = c.promotion().putBack();
    if (what == null || c.delta().isEmpty() || !what.again().isEmpty()) {
      return;
    }
    out.accept(
        Finding.of(
            "hand-edits-go",
            Severity.NOTE,
            site(c),
            "What somebody changed here in "
                + c.delta().words()
                + " becomes as "
                + number(c)
                + " has it; afterwards it is in the backup of this run alone.",
            c.delta().writes(),
            "Take into a draft what should stay",
            null));
  }

  private static void base(CaseFacts c, Consumer<Finding> out) {
    if (c.base() == null) {
      out.accept(
          Finding.said(
              "no-base",
              Severity.BLOCKER,
              site(c),
              number(c) + " and " + c.present() + ", which is here, have no version in common.",
              "Draft the version from one that was here"));
    }
  }

  private static void leftOut(CaseFacts c, Consumer<Finding> out) {
    for (ComponentKey key : c.leftOut()) {
      out.accept(
          Finding.said(
              "fix-left-out",
              Severity.BLOCKER,
              key.toString(),
              key
                  + " was changed by "
                  + c.present()
                  + ", which is here, and "
                  + number(c)
                  + " does not have that change.",
              "Take " + key + " from " + c.present() + " into a new version"));
    }
  }

  private static void newer(CaseFacts c, Consumer<Finding> out) {
    if (number(c).compareTo(c.present()) < 0) {
      out.accept(
          Finding.said(
              "newer-there",
              Severity.RISK,
              site(c),
              c.present() + ", which is here, is newer than " + number(c) + ".",
              "If it is meant as going back, use rollback"));
    }
  }

  /** Other applications that the version needs at the same site. */
  private static void needs(CaseFacts c, Consumer<Finding> out) {
    for (Need need : c.version().needs()) {
      if (need.server() != null || need.extension() != null) {
        continue;
      }
      CaseFacts.Neighbour there = c.here().get(need.application());
      if (there != null && need.holds(there.version())) {
        continue;
      }
      String place = site(c) + " " + need.application();
      Version comes = c.earlier().get(need.application());
      if (comes != null && need.holds(comes.number())) {
        out.accept(
            Finding.said(
                "needs-release",
                Severity.NOTE,
                place,
                number(c) + " needs " + need + ", which the release brings before it.",
                ""));
        continue;
      }
      out.accept(
          Finding.said(
              "prerequisite-missing",
              Severity.BLOCKER,
              place,
              number(c)
                  + " needs "
                  + need
                  + ", and "
                  + site(c)
                  + (there == null
                      ? " does not have it."
                      : " has " + need.application() + " " + there.version() + "."),
              "Promote " + need.application() + " first"));
    }
  }

  /** Releases of servers that the version needs. */
  private static void servers(CaseFacts c, Consumer<Finding> out) {
    for (Need need : c.version().needs()) {
      Holder server = need.server();
      SemVer there = server == null ? null : c.releases().get(server);
      if (server == null || there != null && need.holds(there)) {
        continue;
      }
      String word = need.application().substring("server/".length());
      out.accept(
          Finding.said(
              "server-release",
              Severity.BLOCKER,
              site(c) + " " + word,
              number(c)
                  + " needs a "
                  + word
                  + " of release "
                  + need.range()
                  + ", and that of "
                  + site(c)
                  + (there == null ? " does not tell its release." : " is " + there + "."),
              there == null
                  ? "Seal it without this prerequisite, or let the server tell its release"
                  : "Upgrade the " + word + " first"));
    }
  }

  /**
   * Extensions in other versions than where the version was made; what lacks one is told by what
   * uses it.
   */
  private static void extensions(CaseFacts c, Consumer<Finding> out) {
    for (Need need : c.version().needs()) {
      String name = need.extension();
      String there = name == null ? null : c.extensions().get(name);
      if (name == null || there != null && need.holdsExtension(there)) {
        continue;
      }
      out.accept(
          Finding.said(
              "extension-version",
              there == null ? Severity.BLOCKER : Severity.RISK,
              site(c) + " " + name,
              number(c)
                  + " needs "
                  + need
                  + ", and the database of "
                  + site(c)
                  + (there == null ? " does not have it." : " has " + there + "."),
              there == null
                  ? "Let an administrator make it there: CREATE EXTENSION " + name
                  : "Let an administrator bring it up: ALTER EXTENSION " + name + " UPDATE"));
    }
  }

  /** Other applications at the site that need this one in another range. */
  private static void neededBy(CaseFacts c, Consumer<Finding> out) {
    for (Map.Entry<String, CaseFacts.Neighbour> other : c.here().entrySet()) {
      for (Need need : other.getValue().needs()) {
        if (need.application().equals(c.promotion().application())
            && !need.holds(number(c))
            && !replaced(c, other.getKey())) {
          out.accept(
              Finding.said(
                  "breaks-another",
                  Severity.BLOCKER,
                  site(c) + " " + other.getKey(),
                  other.getKey()
                      + " "
                      + other.getValue().version()
                      + ", which is here, needs "
                      + need
                      + ", and "
                      + number(c)
                      + " is not in that range.",
                  "Promote a version of " + other.getKey() + " that goes with it"));
        }
      }
    }
  }

  /** Whether the release brings a version of the other application that goes with this one. */
  private static boolean replaced(CaseFacts c, String application) {
    Version comes = c.comes().get(application);
    return comes != null
        && comes.needs().stream()
            .filter(n -> n.application().equals(c.promotion().application()))
            .allMatch(n -> n.holds(number(c)));
  }

  private static void judgedBad(CaseFacts c, Consumer<Finding> out) {
    for (SiteRecord r : c.sites()) {
      r.verdict(number(c))
          .filter(v -> !v.good())
          .ifPresent(
              v ->
                  out.accept(
                      Finding.said(
                          "judged-bad",
                          Severity.BLOCKER,
                          r.site().toString(),
                          number(c)
                              + " was judged bad at "
                              + r.site()
                              + " by "
                              + v.by()
                              + ": "
                              + v.reason(),
                          "Seal a corrected version, or take the verdict back there")));
    }
  }

  private static void others(CaseFacts c, Consumer<Finding> out) {
    for (CaseFacts.Open o : c.others()) {
      Promotion p = o.promotion();
      out.accept(
          Finding.of(
              "other-open",
              Severity.NOTE,
              p.shown(),
              p.shown()
                  + " is open too: "
                  + p.version()
                  + " to "
                  + p.site()
                  + ", "
                  + Words.count(o.shared(), "component")
                  + " in common.",
              o.shared(),
              "Agree on the order",
              null));
    }
  }
}
