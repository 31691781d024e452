package plenzo.engine.promoting;

import java.util.ArrayList;
import java.util.List;
import plenzo.core.may.CaseMay;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.promotion.Promotion;
import plenzo.core.promotion.Question;
import plenzo.engine.Tools;

/** What is asked before a yes, and answered in the case; a start is held until then. */
public final class Questions {
  /** Most questions of one promotion (guess: more is a meeting). */
  private static final int MOST = 50;

  private final Tools tools;
  private final Promotions promotions;

  public Questions(Tools tools, Promotions promotions) {
    this.tools = tools;
    this.promotions = promotions;
  }

  /** Asks; only who may say yes or no holds a start up. */
  public Promotion ask(Person by, long number, String text) {
    Promotion p = promotions.able(by, number, CaseMay.Deed.ASK);
    if (p.questions().size() >= MOST) {
      throw Problem.stopped(
          "TOO_MANY",
          p.shown() + " has " + MOST + " questions already.",
          "plenzo promotion show " + p.shown());
    }
    List<Question> all = new ArrayList<>(p.questions());
    all.add(made(() -> new Question(all.size() + 1, by.login(), tools.now(), text, null)));
    return kept(by, p, all, "question asked", text);
  }

  /** Answers, or answers otherwise; who asked may answer too, and lets the start go on so. */
  public Promotion answer(Person by, long number, int question, String text) {
    Promotion p = promotions.get(by, number);
    boolean own =
        p.questions().stream()
            .anyMatch(
                q -> q.number() == question && q.by().equals(by.login()) && p.state().stands());
    if (!own) {
      Promotions.require(p, promotions.may(by, p).may(CaseMay.Deed.ANSWER));
    }
    if (question < 1 || question > p.questions().size()) {
      throw Problem.notFound("question", p.shown() + " " + question);
    }
    Question asked = p.questions().get(question - 1);
    List<Question> all = new ArrayList<>(p.questions());
    all.set(
        question - 1,
        made(() -> asked.answered(new Question.Answer(by.login(), tools.now(), text))));
    return kept(by, p, all, "question answered", "question " + question + ": " + text);
  }

  private static Question made(java.util.function.Supplier<Question> make) {
    try {
      return make.get();
    } catch (IllegalArgumentException e) {
      throw Problem.invalid("TEXT", e.getMessage() + ".", "/text");
    }
  }

  private Promotion kept(Person by, Promotion p, List<Question> all, String event, String text) {
    return tools
        .keeper()
        .write(
            kept -> {
              Promotions.update(kept, promotions.settle(p.change().questions(all).done()));
              kept.note(Promotions.event(by, event, p, text), tools.now());
              return kept.promotions().find(String.valueOf(p.number())).orElseThrow();
            });
  }
}
