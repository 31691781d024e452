package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import plenzo.api.Page;
import plenzo.api.Proposals.GuardChange;
import plenzo.api.Proposals.ProposalView;
import plenzo.api.Proposals.Word;
import plenzo.core.keeping.Kept;
import plenzo.core.person.Person;
import plenzo.core.promotion.Promotion;
import plenzo.core.proposal.Proposal;
import plenzo.core.words.Codes;
import plenzo.engine.Engine;
import plenzo.server.security.Asking;
import plenzo.server.security.Shown;

/** Changes of what guards production, and a second person's word to them. */
@RestController
@RequestMapping("/api/v1/proposals")
class ProposalController {
  private final Engine engine;

  ProposalController(Engine engine) {
    this.engine = engine;
  }

  private static Person by(HttpServletRequest request) {
    return Asking.signedIn(request).person();
  }

  private static long number(String shown) {
    return PromotionController.number(shown, "CH-");
  }

  /**
   * @param state only those in that state
   */
  @GetMapping
  Page<ProposalView> proposals(
      @RequestParam(required = false) @Nullable String state,
      @RequestParam(required = false) @Nullable String cursor,
      @RequestParam(defaultValue = Paging.USUAL) int limit,
      HttpServletRequest request) {
    Person by = by(request);
    Kept.Filter filter =
        state == null
            ? Kept.Filter.all()
            : Kept.Filter.state(
                Codes.find(
                        "a state of a change", Proposal.State.values(), Proposal.State::code, state)
                    .code());
    return Paging.page(
        engine.proposals().list(by, Paging.part(filter, cursor, limit)), p -> view(by, p));
  }

  @GetMapping("/{number}")
  ProposalView one(@PathVariable String number, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.proposals().get(by, number(number)));
  }

  /** Agrees, which makes the change. */
  @PostMapping("/{number}/agree")
  ProposalView agree(
      @PathVariable String number, @RequestBody Word asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.proposals().agree(by, number(number), said(asked)));
  }

  /** Says no, with the reason; nothing is changed. */
  @PostMapping("/{number}/decline")
  ProposalView decline(
      @PathVariable String number, @RequestBody Word asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.proposals().decline(by, number(number), said(asked)));
  }

  /** Takes back what one asked for oneself. */
  @PostMapping("/{number}/withdraw")
  ProposalView withdraw(
      @PathVariable String number, @RequestBody Word asked, HttpServletRequest request) {
    Person by = by(request);
    return view(by, engine.proposals().withdraw(by, number(number), said(asked)));
  }

  private static String said(Word asked) {
    return asked.note() == null ? "" : asked.note();
  }

  private ProposalView view(Person by, Proposal p) {
    return new ProposalView(
        p.shown(),
        p.change().words(),
        Shown.plain(p.words()),
        List.copyOf(p.stages()),
        p.by(),
        p.at(),
        p.state().code(),
        p.second(),
        p.decidedAt(),
        Shown.plain(p.note()),
        engine.proposals().seconds(p),
        Views.may(engine.proposals().mayDecide(by, p)),
        engine.proposals().mayWithdraw(by, p));
  }

  /** What was changed of what a promotion must pass since it was prepared, or waits to be. */
  static List<GuardChange> since(Engine engine, Promotion p) {
    return engine
        .proposals()
        .concerning(
            p.site().stage(), p.application(), engine.promotions().path(p).key(), p.preparedAt())
        .stream()
        .map(
            c ->
                new GuardChange(
                    c.shown(),
                    c.change().words(),
                    Shown.plain(c.words()),
                    c.by(),
                    c.second(),
                    c.decidedAt() == null ? c.at() : c.decidedAt(),
                    c.state().code()))
        .toList();
  }
}
