package plenzo.engine.promoting;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import plenzo.core.json.Json;
import plenzo.core.may.CaseMay;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.OutsideAnswer;
import plenzo.core.promotion.Promotion;
import plenzo.core.stage.OutsideYes;
import plenzo.core.target.TargetFailed;
import plenzo.engine.Tools;
import plenzo.engine.packaging.Keys;
import plenzo.engine.setup.Targets;
import plenzo.packages.Signatures;

/**
 * Asks somebody outside for their yes: a question signed with this service's own key, an answer
 * within a time limit. Whatever is no plain yes to this very plan counts as no, and says why.
 */
public final class Outside {
  /** What the envelope of a question holds. */
  public static final String TYPE = "application/vnd.plenzo.question+json";

  private final Tools tools;
  private final Targets targets;
  private final Promotions promotions;
  private final Keys keys;

  public Outside(Tools tools, Targets targets, Promotions promotions, Keys keys) {
    this.tools = tools;
    this.targets = targets;
    this.promotions = promotions;
    this.keys = keys;
  }

  /**
   * Asks now; the answer is kept with the promotion, and falls with its plan.
   *
   * @throws Problem when nobody outside is asked there, or there is no key to sign with
   */
  public Promotion ask(Person by, long number) {
    Promotion p = promotions.able(by, number, CaseMay.Deed.ASK_OUTSIDE);
    OutsideYes asked = promotions.leg(p).outside();
    if (asked == null) {
      throw Problem.stopped(
          "NOT_ASKED",
          "The way to " + p.site().stage() + " asks nobody outside.",
          "plenzo path show " + promotions.path(p).key());
    }
    Signatures.Keys signing = keys.signing();
    String fingerprint = p.requirePlan().fingerprint().digest().hex();
    OutsideAnswer answer = answer(by, p, asked, fingerprint, signing);
    return tools
        .keeper()
        .writeAgain(
            kept -> {
              Promotion now = kept.promotions().find(String.valueOf(p.number())).orElseThrow();
              Promotions.update(kept, promotions.settle(now.change().outside(answer).done()));
              kept.note(
                  Promotions.event(
                      by,
                      answer.yes() ? "yes from outside" : "no from outside",
                      p,
                      asked.name()
                          + " at "
                          + asked.address()
                          + " to "
                          + p.requirePlan().fingerprint().shown()
                          + (answer.said().isBlank() ? "" : ": " + answer.said())),
                  tools.now());
              return kept.promotions().find(String.valueOf(p.number())).orElseThrow();
            });
  }

  private OutsideAnswer answer(
      Person by, Promotion p, OutsideYes asked, String fingerprint, Signatures.Keys signing) {
    String question = question(by, p, fingerprint);
    boolean yes = false;
    String said;
    try {
      Json.Obj answer =
          Json.parseObject(
              targets.ask(
                  URI.create(asked.address()),
                  Signatures.envelope(signing, TYPE, question.getBytes(StandardCharsets.UTF_8)),
                  Duration.ofSeconds(asked.seconds())));
      String reason = answer.findText("reason");
      said = reason == null ? "" : reason;
      boolean about = fingerprint.equals(answer.findText("fingerprint"));
      yes = about && answer.find("yes") instanceof Json.Bool b && b.value();
      if (!about) {
        said = "the answer is about another plan, or says not about which";
      }
    } catch (TargetFailed e) {
      said = e.getMessage() + "; no answer counts as no";
    } catch (IllegalArgumentException e) {
      said = "the answer cannot be read: " + e.getMessage();
    }
    return new OutsideAnswer(
        asked.name(), asked.address(), fingerprint, yes, said, tools.now(), by.login());
  }

  /** What is asked, in canonical JSON. */
  private String question(Person by, Promotion p, String fingerprint) {
    return Json.object(
            "format",
            1,
            "question",
            "promotion",
            "service",
            tools.keeper().service(),
            "promotion",
            p.shown(),
            "application",
            p.application(),
            "version",
            p.version().text(),
            "site",
            p.site().toString(),
            "fingerprint",
            fingerprint,
            "askedBy",
            by.login(),
            "at",
            tools.now().toString())
        .canonical();
  }
}
